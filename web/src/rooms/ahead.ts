import { manuscriptQuery, proofQuery, queryClient, sessionQuery } from '../api/queries';
import { showKept, showLastSession } from '../offline/showKept';
import { fetchAhead, home, rooms } from './rooms';

/** The code of what all rooms of a manuscript share. */
export const loadFrame = () => import('./RoomFrame');

/**
 * Has fetched at once, side by side, what the page at an address will ask for one after the other: who is signed in, and for a
 * manuscript's room its code, the manuscript and its proof.
 */
export function askAhead(path: string) {
  void showLastSession();
  void queryClient.prefetchQuery({ ...sessionQuery, staleTime: 0 });
  const [, id, name] = /^\/m\/(\d+)(?:\/([a-z-]+))?/.exec(path) ?? [];
  if (!id) return;
  void showKept(Number(id));
  void queryClient.prefetchQuery(manuscriptQuery(Number(id)));
  void queryClient.prefetchQuery(proofQuery(Number(id)));
  // What fails is said where it is shown.
  loadFrame().catch(() => undefined);
  fetchAhead(rooms.find((r) => r.path === name) ?? home, Number(id));
}
