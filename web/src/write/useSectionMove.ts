import { useMutation } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, post, type OutlineLine, type ReplacedPlaces, type SectionFile } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { useStable } from '../ui/useStable';
import { isIdle, isTyped, placesAfter, stepped, type Pending } from './sectionMove';

const LookAfter = 150;

/** What was done, in words, and what takes it back. */
interface Done {
  words: string;
  takeBack: () => Promise<unknown>;
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
    onSuccess: ({ undo }, of) =>
      setDone({
        words: `Moved “${entries[of.section]?.title ?? ''}”.`,
        takeBack: () => post(`${base}/texts/undo`, undo),
      }),
    onError: (e: Error) => setProblem(e.message),
  });
  const takeBack = useMutation({
    mutationFn: (of: Done) => of.takeBack(),
    onSuccess: () => setDone(null),
    onError: (e: Error) => setProblem(e.message),
  });
  // The heading is the same before and after, so each of the two takes the other back, with what was written since.
  const out = useStable((entry: OutlineLine, file?: SectionFile) =>
    post<SectionFile>(`${base}/sections/split`, { section: placeOf(entry), ...file }),
  );
  const back = useStable((entry: OutlineLine) =>
    post<SectionFile>(`${base}/sections/fold`, { section: placeOf(entry) }),
  );
  const current = useStable((title: string) => {
    const entry = entries.find((e) => e.title === title && isTyped(e));
    if (!entry) throw new Error('This heading isn’t there any more.');
    return entry;
  });
  const refile = useMutation({
    mutationFn: ({ entry, isOut }: { entry: OutlineLine; isOut: boolean }) => (isOut ? out(entry) : back(entry)),
    onMutate: () => setProblem(''),
    onSuccess: (file, { entry: { title }, isOut }) =>
      setDone(
        isOut
          ? { words: `“${title}” is in ${file.path} now.`, takeBack: async () => back(current(title)) }
          : { words: `What ${file.path} held is here now.`, takeBack: async () => out(current(title), file) },
      ),
    onError: (e: Error) => setProblem(e.message),
  });
  return {
    pending,
    numbers,
    problem,
    done,
    isBusy: move.isPending || takeBack.isPending || refile.isPending,
    /** Gives a section a file of its own, or brings what its file holds back. */
    refile: (entry: OutlineLine, isOut: boolean) => refile.mutate({ entry, isOut }),
    /** A step of a section as by key, done at once. */
    step: (section: number, key: string) => {
      const to = stepped(entries, { section, before: section, shift: 0 }, key);
      if (!isIdle(entries, to)) move.mutate(to);
    },
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
