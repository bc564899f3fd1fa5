import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { post, type DecisionView, type Note } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { plural } from '../ui/words';
import { decidedTogether, isStale } from './notes';

/** Takes or declines suggestions; what couldn’t be is said. */
export function useDeciding() {
  const { manuscript } = useRoom();
  const [left, setLeft] = useState<DecisionView['left']>([]);
  const deciding = useMutation({
    mutationFn: (wish: { suggestions: number[]; isTaken: boolean; answer?: string; anyway?: boolean }) =>
      post<DecisionView>(`/api/manuscripts/${manuscript.id}/notes/decided`, wish),
    onSuccess: (done) => setLeft(done.left),
    onError: () => setLeft([]),
  });
  return { decide: deciding.mutate, isBusy: deciding.isPending, left, error: deciding.error };
}

/** Suggestions that wait, decided at once: those that were picked, all of one person, or all. */
export function Decisions({ notes, picked }: { notes: readonly Note[]; picked: ReadonlySet<number> }) {
  const { manuscript, canWrite } = useRoom();
  const [person, setPerson] = useState(0);
  const { decide, isBusy, left, error } = useDeciding();
  const open = notes.filter((n) => n.proposal !== null && n.settledBy === null);
  const people = new Map(open.flatMap((n) => (n.person ? [[n.person.id, n.person.name]] : [])));
  // Whoever had some may have none by now.
  const of = people.has(person) ? person : 0;
  const chosen = decidedTogether(notes, picked, of);
  const which = chosen.some((n) => picked.has(n.id)) ? 'the chosen' : 'all';
  const ids = chosen.map((n) => n.id);
  const fit = chosen.filter((n) => !isStale(n)).length;
  if (open.length === 0 && left.length === 0) return null;
  const print = `/api/manuscripts/${manuscript.id}/notes/print/pdf${of ? `?person=${of}` : ''}`;
  return (
    <div
      role="group"
      aria-label="All that are suggested"
      className="mx-2 my-1 rounded bg-note px-2 py-1.5 text-[12.5px]"
    >
      {open.length > 0 && (
        <div className="flex flex-wrap items-center gap-1.5">
          <select
            aria-label="Whose suggestions"
            className="field w-full py-0.5 text-[12.5px]"
            value={of}
            onChange={(e) => setPerson(Number(e.target.value))}
          >
            <option value={0}>Of everyone</option>
            {[...people].map(([id, name]) => (
              <option key={id} value={id}>
                Of {name}
              </option>
            ))}
          </select>
          {canWrite && (
            <>
              <button
                className="button px-2 py-0.5"
                disabled={isBusy || fit === 0}
                onClick={() => decide({ suggestions: ids, isTaken: true })}
              >
                Take {which} {fit}
              </button>
              <button
                className="button px-2 py-0.5"
                disabled={isBusy}
                onClick={() => decide({ suggestions: ids, isTaken: false })}
              >
                Decline {which} {ids.length}
              </button>
            </>
          )}
          <a className="text-slate underline" href={print} target="_blank" rel="noopener">
            In print
          </a>
        </div>
      )}
      {left.length > 0 && (
        <p role="status" className="mt-1 text-ochre-ink">
          ▲ {plural(left.length, 'suggestion')} {left.length === 1 ? 'is' : 'are'} left:{' '}
          {[...new Set(left.map((l) => l.why))].join(' ')}
        </p>
      )}
      {error && (
        <p role="alert" className="mt-1 text-rubric-ink">
          {error.message}
        </p>
      )}
    </div>
  );
}
