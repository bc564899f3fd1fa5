import { useEffect, type RefObject } from 'react';
import { get, type PageSpot, type ProofState } from '../api/client';
import type { ProofHandle } from './ProofLeaf';

/** So long after the cursor came to rest the pages turn, in milliseconds. */
const TurnAfter = 150;

export interface Cursor {
  line: number;
  column: number;
}

/** Has the proof turn to the words being written, while that is wanted. */
export function useFollowing(
  follows: boolean,
  manuscript: number,
  path: string | undefined,
  cursor: Cursor,
  proof: ProofState | null,
  pages: RefObject<ProofHandle | null>,
) {
  useEffect(() => {
    if (!follows || !path || !proof) return;
    const stop = new AbortController();
    const timer = window.setTimeout(() => {
      const query = `file=${encodeURIComponent(path)}&line=${cursor.line}&column=${cursor.column}`;
      get<PageSpot | null>(`/api/manuscripts/${manuscript}/proof/spot?${query}`, stop.signal).then(
        (spot) => spot && pages.current?.show(spot),
        // A look and no more: the next move of the cursor asks again.
        () => undefined,
      );
    }, TurnAfter);
    return () => {
      window.clearTimeout(timer);
      stop.abort();
    };
  }, [follows, manuscript, path, proof, cursor, pages]);
}
