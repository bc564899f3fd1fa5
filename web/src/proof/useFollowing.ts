import { useEffect, useRef, type RefObject } from 'react';
import type { ProofState } from '../api/client';
import { useStable } from '../ui/useStable';
import type { ProofHandle } from './ProofLeaf';
import type { SourcePlace } from './proofMap';

/** So long after the cursor came to rest the pages turn, in milliseconds. */
const TurnAfter = 80;

/**
 * Has the proof turn to the words being written, while that is wanted.
 * @returns What is to be called when the cursor moves: it does at every key, and nothing has to be drawn for that.
 */
export function useFollowing(
  follows: boolean,
  /** The place of the cursor in the text that a proof shows; null when it can't be told. */
  place: (proof: ProofState) => SourcePlace | null,
  proof: ProofState | null,
  pages: RefObject<ProofHandle | null>,
): () => void {
  const timer = useRef(0);
  const turn = useStable(() => {
    window.clearTimeout(timer.current);
    if (!follows || !proof) return;
    timer.current = window.setTimeout(() => {
      const at = place(proof);
      if (at) pages.current?.show(at);
    }, TurnAfter);
  });
  useEffect(() => turn(), [turn, follows, proof]);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  return turn;
}
