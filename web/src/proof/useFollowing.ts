import { useEffect, type RefObject } from 'react';
import type { ProofState } from '../api/client';
import type { ProofHandle } from './ProofLeaf';
import type { SourcePlace } from './proofMap';

/** So long after the cursor came to rest the pages turn, in milliseconds. */
const TurnAfter = 80;

/** Has the proof turn to the words being written, while that is wanted. */
export function useFollowing(
  follows: boolean,
  /** The place of the cursor in the text that a proof shows; null when it can't be told. */
  place: (proof: ProofState) => SourcePlace | null,
  /** Changes when the cursor moves. */
  cursor: unknown,
  proof: ProofState | null,
  pages: RefObject<ProofHandle | null>,
) {
  useEffect(() => {
    if (!follows || !proof) return;
    const timer = window.setTimeout(() => {
      const at = place(proof);
      if (at) pages.current?.show(at);
    }, TurnAfter);
    return () => window.clearTimeout(timer);
  }, [follows, place, proof, cursor, pages]);
}
