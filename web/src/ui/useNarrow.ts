import { useSyncExternalStore } from 'react';

/** State that follows the window: whether a condition of CSS holds. */
function matching(condition: string) {
  const query = window.matchMedia(condition);
  const listen = (told: () => void) => {
    query.addEventListener('change', told);
    return () => query.removeEventListener('change', told);
  };
  return () => useSyncExternalStore(listen, () => query.matches);
}

/** Whether there is room for one leaf only: a narrow window, a tablet, or a page zoomed to 200 %. */
export const useNarrow = matching('(max-width: 899px)');

/** Whether the window is so low that a pane under a leaf would take its place. */
export const useLow = matching('(max-height: 560px)');
