import { Popover } from 'radix-ui';
import type { Report } from '../api/client';
import { digits, plural } from '../ui/words';
import { wordsWithin } from './outline';

const kinds = [
  ['text', 'In the text'],
  ['headings', 'In headings'],
  ['captions', 'In captions'],
  ['notes', 'In notes'],
] as const;

/** How many words there are, and on asking where they stand. */
export function Words({ report }: { report: Report }) {
  const within = wordsWithin(report.outline);
  const most = Math.max(1, ...within);
  return (
    <Popover.Root>
      <Popover.Trigger className="rounded underline decoration-rule decoration-dotted underline-offset-2 hover:text-ink">
        {plural(report.words, 'word')}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          collisionPadding={10}
          aria-label="Words"
          className="z-20 flex max-h-[min(28rem,80vh)] w-[22rem] flex-col rounded-lg border border-rule bg-leaf p-4 shadow-lg"
        >
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
            className="mt-3 min-h-0 overflow-y-auto border-t border-rule pt-2"
            tabIndex={0}
          >
            {report.outline.map((e, i) => (
              <li key={i} className="grid grid-cols-[1fr_4.5rem_2.75rem] items-center gap-2 py-0.5 text-[12.5px]">
                <span className="truncate" style={{ paddingLeft: Math.max(0, e.level) * 10 }}>
                  {e.number} {e.title}
                </span>
                <span className="h-1.5 rounded bg-tint" aria-hidden>
                  <span
                    className="block h-full rounded bg-slate"
                    style={{ width: `${(100 * within[i]!) / most}%`, opacity: e.level <= 0 ? 1 : 0.55 }}
                  />
                </span>
                <span className="text-right tabular-nums">{digits(within[i]!)}</span>
              </li>
            ))}
          </ol>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
