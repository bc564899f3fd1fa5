import { useMutation, useQuery } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState, type FormEvent } from 'react';
import { post, type Report } from '../api/client';
import { queryClient, writingQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { day } from '../ui/time';
import { digits, plural } from '../ui/words';
import { wordsWithin } from './outline';
import { lineThrough, lastDays, type DayCount } from './wordDays';

const kinds = [
  ['text', 'In the text'],
  ['headings', 'In headings'],
  ['captions', 'In captions'],
  ['notes', 'In notes'],
] as const;

/** How many words there are, and on asking where they stand, how many there are to be, and how they came. */
export function Words({ report }: { report: Report }) {
  const { manuscript, canWrite } = useRoom();
  const { data } = useQuery(writingQuery(manuscript.id));
  const within = wordsWithin(report.outline);
  const most = Math.max(1, ...within);
  const goals = new Map(data?.goals.map((g) => [g.section, g.words]));
  const goal = goals.get('');
  return (
    <Popover.Root>
      <Popover.Trigger className="rounded underline decoration-rule decoration-dotted underline-offset-2 hover:text-ink">
        {goal ? `${digits(report.words)} of ${plural(goal, 'word')}` : plural(report.words, 'word')}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          collisionPadding={10}
          aria-label="Words"
          className="z-20 flex max-h-[min(34rem,84vh)] w-[24rem] flex-col rounded-lg border border-rule bg-leaf p-4 shadow-lg"
        >
          {goal !== undefined && <Reached words={report.words} goal={goal} />}
          <Days days={lastDays(data?.days ?? [], report.words, new Date())} />
          <dl className="grid grid-cols-[1fr_auto] gap-x-4 gap-y-0.5">
            {kinds.map(([kind, says]) => (
              <div key={kind} className="contents">
                <dt>{says}</dt>
                <dd className="text-right tabular-nums">{digits(report.wordsBy?.[kind] ?? 0)}</dd>
              </div>
            ))}
          </dl>
          <p className="mt-1 text-[12.5px] text-ink-2">
            As they print, without formulas, tables, contents and the list of sources.
          </p>
          <ol
            aria-label="Words by section"
            className="mt-3 min-h-16 overflow-y-auto border-t border-rule pt-2"
            tabIndex={0}
          >
            {report.outline.map((e, i) => {
              const own = goals.get(e.title);
              return (
                <li key={i} className="grid grid-cols-[1fr_4.5rem_5.5rem] items-center gap-2 py-0.5 text-[12.5px]">
                  <span className="truncate" style={{ paddingLeft: Math.max(0, e.level) * 10 }}>
                    {e.number} {e.title}
                  </span>
                  <span className="h-1.5 overflow-hidden rounded bg-tint" aria-hidden>
                    <span
                      className={`block h-full rounded ${own && within[i]! >= own ? 'bg-moss' : 'bg-slate'}`}
                      style={{
                        width: `${(100 * Math.min(within[i]!, own ?? most)) / (own ?? most)}%`,
                        opacity: e.level <= 0 || own ? 1 : 0.55,
                      }}
                    />
                  </span>
                  <span className="text-right tabular-nums">
                    {digits(within[i]!)}
                    {own !== undefined && <span className="text-ink-2"> of {digits(own)}</span>}
                  </span>
                </li>
              );
            })}
          </ol>
          {canWrite && <Goal sections={report.outline.map((e) => e.title)} goals={goals} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Reached({ words, goal }: { words: number; goal: number }) {
  const share = Math.min(100, Math.round((100 * words) / goal));
  return (
    <div className="mb-3">
      <p className="flex justify-between">
        <span className="font-medium">
          {digits(words)} of {plural(goal, 'word')}
        </span>
        <span className="text-ink-2">{words >= goal ? 'reached' : `${share} %`}</span>
      </p>
      <span
        role="progressbar"
        aria-label="The goal"
        aria-valuenow={share}
        className="mt-1 block h-2 overflow-hidden rounded bg-tint"
      >
        <span
          className={`block h-full rounded ${words >= goal ? 'bg-moss' : 'bg-slate'}`}
          style={{ width: `${share}%` }}
        />
      </span>
    </div>
  );
}

const [Wide, High] = [340, 44];

/** A small line of the last weeks. */
function Days({ days }: { days: DayCount[] }) {
  const first = days[0];
  const today = days.at(-1);
  if (!first || !today || days.length < 2) return null;
  const before = days.at(-2)!;
  const gained = today.words - before.words;
  return (
    <figure className="mb-3 border-b border-rule pb-3">
      <svg
        viewBox={`0 0 ${Wide} ${High}`}
        className="h-11 w-full"
        role="img"
        aria-label={`Words since ${day(first.day)}`}
      >
        <polyline
          points={lineThrough(days, Wide, High)}
          fill="none"
          className="stroke-slate"
          strokeWidth="1.75"
          strokeLinejoin="round"
        />
      </svg>
      <figcaption className="flex justify-between text-[12.5px] text-ink-2">
        <span>
          {day(first.day)}: {digits(first.words)}
        </span>
        <span>
          {gained < 0 ? '−' : '+'}
          {digits(Math.abs(gained))} today
        </span>
      </figcaption>
    </figure>
  );
}

/** Sets how many words there are to be. */
function Goal({ sections, goals }: { sections: string[]; goals: ReadonlyMap<string, number> }) {
  const { manuscript } = useRoom();
  const [section, setSection] = useState('');
  const [typed, setTyped] = useState<string | null>(null);
  const set = useMutation({
    mutationFn: (words: number) => post(`/api/manuscripts/${manuscript.id}/writing/goal`, { section, words }),
    onSuccess: () => {
      setTyped(null);
      return queryClient.invalidateQueries({ queryKey: writingQuery(manuscript.id).queryKey });
    },
  });
  const value = typed ?? (goals.get(section)?.toString() || '');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    set.mutate(Math.max(0, Math.round(Number(value)) || 0));
  };
  return (
    <form onSubmit={submit} className="mt-3 border-t border-rule pt-3">
      <div className="flex items-center gap-2">
        <select
          aria-label="A goal for"
          className="min-w-0 flex-1 truncate rounded border border-rule bg-page px-1.5 py-1"
          value={section}
          onChange={(e) => {
            setSection(e.target.value);
            setTyped(null);
          }}
        >
          <option value="">All of it</option>
          {[...new Set(sections)].map((title) => (
            <option key={title} value={title}>
              {title}
            </option>
          ))}
        </select>
        <input
          aria-label="Words to reach"
          inputMode="numeric"
          placeholder="words"
          className="w-20 rounded border border-rule bg-page px-2 py-1 text-right"
          value={value}
          onChange={(e) => setTyped(e.target.value.replace(/\D/g, ''))}
        />
        <button className="button py-0.5" disabled={typed === null || set.isPending}>
          {value === '' && goals.has(section) ? 'Take the goal away' : 'Set the goal'}
        </button>
      </div>
      {set.error && (
        <p role="alert" className="mt-1 text-rubric">
          {set.error.message}
        </p>
      )}
    </form>
  );
}
