import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst } from 'workbox-strategies';
import { FontCache } from '../src/offline/fontCache';

declare const self: ServiceWorkerGlobalScope;

/** The application's own files, put here when it is built (vite.config.ts). */
declare const applicationFiles: { url: string; revision: string | null }[];

/**
 * So long the server is waited for before the application comes out of this browser, in milliseconds: one that was just started takes
 * its time, and the application can be there meanwhile.
 */
const Patience = 150;

cleanupOutdatedCaches();
precacheAndRoute(applicationFiles);

// What people wrote isn't kept here: the application keeps it itself, for each person apart. Fonts ship with it and are everyone's.
registerRoute(({ url }) => url.pathname.startsWith('/api/fonts/'), new CacheFirst({ cacheName: FontCache }));

// The newest page, and the one that is kept only when the server can't be had soon: after an update hardly anyone meets the old one.
registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      const kept = async () => (await matchPrecache('/index.html')) ?? Response.error();
      try {
        const answer = await fetch(request, { signal: AbortSignal.timeout(Patience) });
        if (answer.status >= 500) return await kept();
        if (!answer.body) return answer;
        // Read whole here: a page whose time ran out between its head and its end would be waited for without end.
        return new Response(await answer.arrayBuffer(), answer);
      } catch {
        return kept();
      }
    },
    { denylist: [/^\/(api|hub|health|openapi|assets)(\/|$)/] },
  ),
);

// The first time, the pages that are open already are served from here too. Later ones wait until those of before are closed.
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));
