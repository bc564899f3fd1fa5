/** The rest of the application is fetched when the first page has come to rest, in milliseconds. */
const RegisterAfter = 2000;

/** From now on the application comes out of this browser when the server can't be reached. Browsers allow it only over HTTPS and on this machine itself. */
export function registerServiceWorker() {
  if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return;
  window.addEventListener('load', () => {
    window.setTimeout(() => {
      // Without it the application needs the server to load, as it does where there are none.
      navigator.serviceWorker.register('/service-worker.js').catch(() => undefined);
    }, RegisterAfter);
  });
}
