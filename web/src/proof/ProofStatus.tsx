import { useSyncExternalStore } from 'react';
import type { ProofState } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { briefly } from '../ui/time';
import type { ProofWatch } from './proofWatch';

/** Whether the pages are those of what is written, in a word: nothing is called current that isn't. */
export function ProofStatus(props: {
  proof: ProofState | null;
  watch: ProofWatch;
  /** The pages in view are drawn. */
  isDrawn: boolean;
  /** Why one of them can't be. */
  problem: string;
}) {
  const { proof, watch, isDrawn, problem } = props;
  const { desk } = useRoom();
  const { isBusy, hasFailed } = useSyncExternalStore(watch.listen, () => watch.standing);
  const isUnsaved = useSyncExternalStore(desk.listen, () => desk.save.waiting > 0);
  // What is written can't be stored just now, so that no pages follow.
  const isUnstored = useSyncExternalStore(desk.listen, () => desk.save.offline || desk.save.problem !== '');
  const isStopped = isUnstored || hasFailed;
  const isCurrent = !isBusy && !isUnsaved && !isStopped && isDrawn && !problem;
  const standing = isStopped ? 'the last pages' : isCurrent ? 'current' : 'typesetting …';
  return (
    <span
      className="flex min-w-0 flex-[1_1_4.6rem] items-center justify-end gap-1.5 text-ink-2"
      data-testid="proof-state"
      title={proof ? `Typeset in ${Math.round(proof.milliseconds)} ms` : undefined}
    >
      <span className={`size-2 shrink-0 rounded-full ${isCurrent ? 'bg-moss' : 'bg-ochre'}`} aria-hidden />
      <span className="truncate">{problem || (proof?.asOf ? `as of ${briefly(proof.asOf)}` : standing)}</span>
    </span>
  );
}
