import { useCallback, useLayoutEffect, useRef } from 'react';

/** A function that stays the same one over renders and does what the newest one does: so that what is given it needn't be drawn anew. */
export function useStable<A extends unknown[], R>(newest: (...values: A) => R): (...values: A) => R {
  const now = useRef(newest);
  useLayoutEffect(() => {
    now.current = newest;
  });
  return useCallback((...values: A) => now.current(...values), []);
}
