import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown, ChevronUp, Diamond, Undo2 } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import {
  call,
  post,
  type ComparedFile,
  type HistoryEvent,
  type PassageChange,
  type Pin,
  type Restored,
  type UndoStep,
} from '../api/client';
import { chronicleQuery, comparisonQuery, FewestSigns, keys, traceQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { AskConsent } from '../ui/Ask';
import { Unavailable } from '../ui/Unavailable';
import { useDeferredByTime } from '../ui/useDeferredByTime';
import { useLeafKeys } from '../ui/useLeafKeys';
import { Waiting } from '../ui/Waiting';
import { plural } from '../ui/words';
import { ComparedPrint } from './ComparedPrint';
import { ComparedSource } from './ComparedSource';
import { EventList } from './EventList';
import { summed, traced } from './events';
import { HistoryFilters, type HistoryFilter } from './HistoryFilters';
import { PinDialog } from './PinDialog';
import { WordsLine } from './WordsLine';

const leaf = 'flex min-w-0 flex-col overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]';
const tab = 'rounded px-2 py-0.5 text-ink-2 data-[state=active]:font-semibold data-[state=active]:text-rubric-ink';

/** How long one waits for another letter of what is looked for, in milliseconds. */
const Pause = 250;

/** The Chronicle: the history as events and pins, and any two moments of it compared, in the source and in print. */
export default function ChronicleRoom() {
  const { manuscript, canWrite } = useRoom();
  const { id } = manuscript;
  const [address, setAddress] = useSearchParams();
  // Words that are followed from the text come in the address.
  const [filter, setFilter] = useState<HistoryFilter>({
    person: '',
    kind: '',
    words: address.get('words') ?? '',
    isInText: address.has('words'),
  });
  const { person, kind, words, isInText } = filter;
  const [pinning, setPinning] = useState<{ pin?: Pin; revision?: number } | null>(null);
  const [restoring, setRestoring] = useState<{ revision: number; file?: ComparedFile } | null>(null);
  const [done, setDone] = useState<{ says: string; undo: UndoStep[] } | null>(null);
  const compared = useRef<HTMLDivElement>(null);
  const client = useQueryClient();
  useLeafKeys();
  useEffect(() => {
    document.title = `Chronicle · ${manuscript.title}`;
  }, [manuscript.title]);
  const wanted = useDeferredByTime(words.trim(), Pause);
  const history = useInfiniteQuery(
    chronicleQuery(id, {
      person: person ? Number(person) : undefined,
      kind: kind || undefined,
      words: (!isInText && wanted) || undefined,
    }),
  );
  const trace = useQuery(traceQuery(id, isInText ? wanted : ''));
  const isTracing = isInText && wanted.length >= FewestSigns;
  const found = isTracing ? trace.data : undefined;
  const pages = history.data?.pages;
  const first = pages?.[0];
  const newest = first?.revision ?? manuscript.revision;
  const pins = first?.pins ?? [];
  // What is compared is in the address, so that it can be sent: to begin with, what is new since one was here, or the last event.
  const last = first?.events.find((e) => e.kind === 'text' || e.kind === 'act') ?? first?.events[0];
  const usual =
    first && first.seenRevision > 0 && first.seenRevision < newest ? first.seenRevision : (last?.fromRevision ?? 1) - 1;
  const from = Math.max(1, Number(address.get('from') ?? usual));
  const to = address.get('to') ? Number(address.get('to')) : newest;
  const isNow = to >= newest;
  const face = address.get('face') ?? 'source';
  const comparison = useQuery({ ...comparisonQuery(id, from, to), enabled: first !== undefined });

  const compare = (next: { from?: number; to?: number; face?: string }) =>
    setAddress(
      (now) => {
        const search = new URLSearchParams(now);
        if (next.from !== undefined) search.set('from', String(Math.max(1, next.from)));
        if (next.to !== undefined) {
          // What is compared with now goes on with it.
          if (next.to >= newest) search.delete('to');
          else search.set('to', String(next.to));
        }
        if (next.face) search.set('face', next.face);
        return search;
      },
      { replace: true },
    );
  const again = () => client.invalidateQueries({ queryKey: keys.chronicle(id) });
  const bringing = useMutation({
    mutationFn: ({ file, passages }: { file: number; passages: readonly PassageChange[] }) =>
      post<Restored>(`/api/manuscripts/${id}/restore`, {
        revision: from,
        file,
        passages: passages.map(({ passage }) => ({
          from: { revision: from, offset: passage.from, length: passage.fromLength },
          to: { revision: to, offset: passage.to, length: passage.toLength },
        })),
      }),
    onSuccess: ({ undo }, { passages }) => {
      setDone({ says: `The ${passages.length > 1 ? 'section' : 'passage'} is as it was.`, undo });
      return again();
    },
  });
  const restore = useMutation({
    mutationFn: (wish: { revision: number; file?: ComparedFile }) =>
      post<Restored>(`/api/manuscripts/${id}/restore`, { revision: wish.revision, file: wish.file?.id ?? null }),
    onSuccess: ({ isChanged }, { revision, file }) => {
      setDone({
        says: isChanged
          ? `${file ? file.path : 'All of it'} is as it was at revision ${revision}.`
          : 'It is so already.',
        undo: [],
      });
      return again();
    },
  });
  const undoing = useMutation({
    mutationFn: (steps: UndoStep[]) => post(`/api/manuscripts/${id}/texts/undo`, steps),
    onSuccess: again,
    onSettled: () => setDone(null),
  });
  const unpin = useMutation({
    mutationFn: (pin: Pin) => call('DELETE', `/api/manuscripts/${id}/pins/${pin.id}`),
    onSuccess: again,
  });

  if (!first)
    return history.error ? (
      <Unavailable why={history.error.message} />
    ) : (
      <Waiting what="The chronicle" failure={history.failureReason} />
    );

  const problem = (bringing.error ?? restore.error ?? undoing.error ?? unpin.error)?.message;
  const isBusy = bringing.isPending || restore.isPending;
  const files = comparison.data?.files ?? [];
  const [wordsIn, wordsOut] = files.reduce(([i, o], f) => [i + f.wordsIn, o + f.wordsOut], [0, 0]);
  const moments = [
    { revision: newest, name: 'now' },
    ...[...pins].reverse().map((p) => ({ revision: p.revision, name: `◆ ${p.name}` })),
    ...(first.seenRevision > 0 && first.seenRevision < newest
      ? [{ revision: first.seenRevision, name: 'when you were last here' }]
      : []),
    { revision: 1, name: 'the beginning' },
  ];
  const step = (by: number) => {
    const all = [...(compared.current?.querySelectorAll<HTMLElement>('[data-change]') ?? [])];
    if (all.length === 0) return;
    const top = compared.current!.getBoundingClientRect().top + 60;
    const focused = all.indexOf(document.activeElement as HTMLElement);
    const now = focused >= 0 ? focused : all.findLastIndex((e) => e.getBoundingClientRect().top < top);
    const next = all[Math.min(all.length - 1, Math.max(0, now + by))]!;
    next.scrollIntoView({ block: 'nearest' });
    next.focus({ preventScroll: true });
    if (face === 'print') next.click();
  };

  return (
    <main className="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto p-2.5 min-[960px]:flex-row min-[960px]:overflow-hidden">
      <section
        aria-label="Chronicle"
        data-leaf="events"
        className={`${leaf} min-h-[360px] shrink-0 min-[960px]:w-[392px]`}
      >
        <WordsLine words={first.words} pins={pins} onPin={(pin) => compare({ from: pin.revision, to: newest })} />
        <HistoryFilters
          filter={filter}
          isTracing={isTracing}
          people={manuscript.people}
          onFilter={(part) => setFilter((now) => ({ ...now, ...part }))}
        >
          {canWrite && (
            <button className="button justify-center px-2 py-0.5" onClick={() => setPinning({})}>
              <Diamond className="size-3.5" aria-hidden /> Pin now
            </button>
          )}
        </HistoryFilters>
        <div className="min-h-0 flex-1 overflow-y-auto pb-4" tabIndex={-1}>
          {isTracing && (
            <p role="status" className="px-3 pt-2 text-[12.5px] text-ink-2">
              {trace.error?.message ?? (found ? summed(found.now, found.events) : 'Reading the history …')}
            </p>
          )}
          <EventList
            manuscript={id}
            events={isTracing ? (found?.events.map((t) => t.event) ?? []) : pages.flatMap((p) => p.events)}
            says={found && ((event) => traced(found.events.find((t) => t.event.number === event.number)!))}
            pins={person || kind || wanted ? [] : pins}
            seen={first.seenRevision}
            from={from}
            to={to}
            canWrite={canWrite}
            onEvent={(event: HistoryEvent) => compare({ from: event.fromRevision - 1, to: event.toRevision })}
            onPin={(pin) => compare({ from: pin.revision, to: newest })}
            onSetPin={(revision) => setPinning({ revision })}
            onRename={(pin) => setPinning({ pin })}
            onUnpin={(pin) => unpin.mutate(pin)}
          />
          {!isTracing && first.events.length === 0 && (
            <p className="px-3 py-4 text-ink-2">Nothing of that kind has happened.</p>
          )}
          {!isTracing && history.hasNextPage && (
            <button
              className="button mx-3 mt-2"
              disabled={history.isFetchingNextPage}
              onClick={() => void history.fetchNextPage()}
            >
              {history.isFetchingNextPage ? 'Fetching …' : 'Older'}
            </button>
          )}
          <p className="px-3 pt-4 text-[12.5px] text-ink-2">
            <a className="text-slate underline" href={`/api/manuscripts/${id}/history`} download="history.fast-export">
              Download the whole history
            </a>
            , a commit for each of these: <code className="font-mono text-[11.5px]">git fast-import</code> reads it, and
            Import on the shelf does.
          </p>
        </div>
      </section>
      <Tabs.Root value={face} onValueChange={(next) => compare({ face: next })} asChild>
        <section aria-label="What changed" data-leaf="changes" className={`${leaf} min-h-[460px] flex-1`}>
          <header className="flex shrink-0 flex-wrap items-center gap-x-2 gap-y-1 border-b border-rule px-4 py-2">
            <span>From</span>
            <Moment name="From" value={from} moments={moments} onChoose={(revision) => compare({ from: revision })} />
            <span>to</span>
            <Moment name="To" value={to} moments={moments} onChoose={(revision) => compare({ to: revision })} />
            <span
              className="min-w-0 flex-1 truncate text-[12.5px] text-ink-2"
              title="Files that differ; words that came in and went"
            >
              {comparison.data ? `${plural(files.length, 'file')}, +${wordsIn} −${wordsOut}` : 'comparing …'}
            </span>
            <Tabs.List aria-label="Compare" className="flex shrink-0 whitespace-nowrap">
              <Tabs.Trigger value="source" className={tab}>
                In the source
              </Tabs.Trigger>
              <Tabs.Trigger value="print" className={tab}>
                In print
              </Tabs.Trigger>
            </Tabs.List>
            <span className="flex">
              <button
                className="rounded p-1 hover:bg-paper"
                aria-label="Change before"
                aria-keyshortcuts="Alt+ArrowUp"
                title="Change before: Alt and ↑"
                onClick={() => step(-1)}
              >
                <ChevronUp className="size-4" aria-hidden />
              </button>
              <button
                className="rounded p-1 hover:bg-paper"
                aria-label="Next change"
                aria-keyshortcuts="Alt+ArrowDown"
                title="Next change: Alt and ↓"
                onClick={() => step(1)}
              >
                <ChevronDown className="size-4" aria-hidden />
              </button>
            </span>
            {canWrite && (
              <button
                className="button px-2.5 py-0.5"
                disabled={isBusy}
                onClick={() => setRestoring({ revision: from })}
              >
                Restore …
              </button>
            )}
          </header>
          {(problem || done) && (
            <p
              role={problem ? 'alert' : 'status'}
              className={`flex shrink-0 items-center gap-2 border-b border-rule px-4 py-1.5 ${problem ? 'bg-rubric-tint text-rubric-ink' : 'bg-moss-tint text-moss-ink'}`}
            >
              {problem ?? done?.says}
              {!problem && done && done.undo.length > 0 && (
                <button
                  className="inline-flex items-center gap-1 font-medium underline"
                  onClick={() => undoing.mutate(done.undo)}
                >
                  <Undo2 size={13} aria-hidden /> Undo
                </button>
              )}
            </p>
          )}
          <div
            ref={compared}
            className="min-h-0 flex-1"
            onKeyDown={(e) => {
              if (!e.altKey || (e.key !== 'ArrowDown' && e.key !== 'ArrowUp')) return;
              e.preventDefault();
              step(e.key === 'ArrowDown' ? 1 : -1);
            }}
          >
            <Tabs.Content value="source" className="h-full overflow-y-auto" tabIndex={0} data-entry>
              {comparison.data ? (
                <ComparedSource
                  manuscript={id}
                  files={files}
                  canBring={canWrite && isNow}
                  isBusy={isBusy}
                  onBring={(file, passages) => bringing.mutate({ file, passages })}
                  onRestore={(file) => setRestoring({ revision: from, file })}
                />
              ) : (
                <p className="p-6 text-ink-2">{comparison.error?.message ?? 'Comparing …'}</p>
              )}
            </Tabs.Content>
            <Tabs.Content value="print" className="h-full min-h-0" tabIndex={-1}>
              <ComparedPrint key={`${from} ${to}`} manuscript={id} from={from} to={to} />
            </Tabs.Content>
          </div>
        </section>
      </Tabs.Root>
      {pinning && <PinDialog manuscript={id} {...pinning} onClose={() => setPinning(null)} />}
      {restoring && (
        <AskConsent
          title={restoring.file ? `Restore ${restoring.file.path}?` : `Go back to revision ${restoring.revision}?`}
          text={
            restoring.file
              ? 'The file gets the words that it had then, as new revisions. What it holds now stays in the history.'
              : 'All files get what they held then, and files that came since go, as new revisions. What is there now is pinned first, and nothing is lost.'
          }
          action={restoring.file ? 'Restore it' : 'Go back'}
          onClose={() => setRestoring(null)}
          onYes={() => restore.mutate(restoring)}
        />
      )}
    </main>
  );
}

/** A moment to compare: a pin, now, the beginning, or the revision that was chosen in the list. */
function Moment(props: {
  name: string;
  value: number;
  moments: { revision: number; name: string }[];
  onChoose: (revision: number) => void;
}) {
  const { name, value, moments, onChoose } = props;
  const isKnown = moments.some((m) => m.revision === value);
  return (
    <select
      aria-label={name}
      className="field w-auto max-w-[168px] truncate py-0.5 font-serif font-medium"
      value={value}
      onChange={(e) => onChoose(Number(e.target.value))}
    >
      {!isKnown && <option value={value}>revision {value}</option>}
      {moments
        .filter((m, i) => moments.findIndex((x) => x.revision === m.revision) === i)
        .map((m) => (
          <option key={m.revision} value={m.revision}>
            {m.name}
          </option>
        ))}
    </select>
  );
}
