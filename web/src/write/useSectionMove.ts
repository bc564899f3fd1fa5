import { useMutation } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, post, type OutlineLine, type ReplacedPlaces } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { useStable } from '../ui/useStable';
import { isIdle, placesAfter, type Pending } from './sectionMove';

const LookAfter = 150;

/** A move that was done, and what takes it back. */
interface Done {
  title: string;
  undo: ReplacedPlaces['undo'];
}

/**
 * Moves sections of the spine: shows which numbers there would be, and carries the move out. `versions` are those of the texts that the
 * entries are of: the server finds the headings again, whatever was written since.
 */
export function useSectionMove(entries: OutlineLine[], versions: Readonly<Record<string, number>>) {
  const { manuscript } = useRoom();
  const [pending, setPending] = useState<Pending | null>(null);
  const [numbers, setNumbers] = useState<(string | null)[] | null>(null);
  const [problem, setProblem] = useState('');
  const [done, setDone] = useState<Done | null>(null);
  const base = `/api/manuscripts/${manuscript.id}`;
  const placeOf = (entry: OutlineLine | undefined) =>
    entry?.file != null ? { file: entry.file, version: versions[entry.file] ?? 0, offset: entry.offset ?? 0 } : null;
  const asked = ({ section, before, shift }: Pending) => {
    // What nobody typed, such as a list of sources, has no place of its own: the next heading counts.
    const next = entries.slice(before).find((e) => placeOf(e));
    const isInPlace = isIdle(entries, { section, before, shift: 0 });
    return {
      section: placeOf(entries[section]),
      before: isInPlace ? null : placeOf(next),
      toEnd: !isInPlace && !next,
      shift,
    };
  };
  const ask = useStable(asked);
  const places = useStable((of: Pending) => placesAfter(entries, of));
  const idle = pending === null || isIdle(entries, pending);

  // The numbers as the engine would print them.
  useEffect(() => {
    setNumbers(null);
    setProblem('');
    if (!pending || idle) return;
    const stop = new AbortController();
    const timer = window.setTimeout(() => {
      call<{ outline: OutlineLine[] }>('POST', `${base}/sections/look`, ask(pending), stop.signal).then(
        ({ outline }) => {
          const after = places(pending);
          if (outline.length === after.length) setNumbers(after.map((now) => outline[now]?.number ?? null));
        },
        (e: Error) => !stop.signal.aborted && setProblem(e.message),
      );
    }, LookAfter);
    return () => {
      window.clearTimeout(timer);
      stop.abort();
    };
  }, [base, pending, idle, ask, places]);

  const move = useMutation({
    mutationFn: (of: Pending) => post<ReplacedPlaces>(`${base}/sections/move`, asked(of)),
    onSuccess: ({ undo }, of) => setDone({ title: entries[of.section]?.title ?? '', undo }),
    onError: (e: Error) => setProblem(e.message),
  });
  const takeBack = useMutation({
    mutationFn: (of: Done) => post(`${base}/texts/undo`, of.undo),
    onSuccess: () => setDone(null),
    onError: (e: Error) => setProblem(e.message),
  });
  return {
    pending,
    numbers,
    problem,
    done,
    isBusy: move.isPending || takeBack.isPending,
    set: setPending,
    commit: () => {
      if (pending && !isIdle(entries, pending)) move.mutate(pending);
      setPending(null);
    },
    takeBack: () => done && takeBack.mutate(done),
    forget: () => {
      setDone(null);
      setProblem('');
    },
  };
}
