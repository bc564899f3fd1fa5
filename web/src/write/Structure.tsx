import { Undo2, X } from 'lucide-react';
import { ContextMenu } from 'radix-ui';
import { useEffect, useRef, useState, type DragEvent, type KeyboardEvent, type ReactNode } from 'react';
import type { Finding, ManuscriptFile, OutlineLine, Report } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { Initials } from '../ui/Brand';
import { menuItem } from '../ui/Menu';
import { plural } from '../ui/words';
import { sectionAt, wordsWithin } from './outline';
import { endOf, isIdle, isTyped, stepped } from './sectionMove';
import { useSectionMove } from './useSectionMove';

/** So far to the side a heading is dragged for each level, in pixels. */
const LevelStep = 18;

/** So many headings are worth a filter. */
const Many = 12;

/** The structure as printed: headings that lead to their places, and that can be moved. */
export function Structure(props: {
  report: Report | null;
  findings: readonly Finding[];
  versions: Readonly<Record<string, number>>;
  file: ManuscriptFile;
  line: number;
  onTurn: (entry: OutlineLine) => void;
}) {
  const { report, findings, versions, file, line, onTurn } = props;
  const { manuscript, present, canWrite } = useRoom();
  const current = useRef<HTMLButtonElement>(null);
  const [filter, setFilter] = useState('');
  const entries = report?.outline ?? none;
  const moves = useSectionMove(entries, versions);
  const { pending, numbers } = moves;
  const drag = useRef({ x: 0 });
  const here = sectionAt(entries, file.path, line);
  const others = present.flatMap((p) => {
    const path = manuscript.files.find((x) => x.id === p.place?.file)?.path;
    return p.place && path ? [{ person: p.person, section: sectionAt(entries, path, p.place.line) }] : [];
  });
  const found = new Map<number, Finding[]>();
  for (const f of findings) {
    const at = f.file ? sectionAt(entries, f.file, f.line ?? 1) : -1;
    if (at >= 0) found.set(at, [...(found.get(at) ?? []), f]);
  }
  // The heading that one is in stays in view.
  useEffect(() => {
    void current.current?.scrollIntoView({ block: 'nearest' });
  }, [here]);
  if (entries.length === 0) {
    return (
      <p className="px-3 py-2 text-ink-2">
        {report ? 'Headings show here: begin with \\section{…}.' : 'Reading the manuscript …'}
      </p>
    );
  }
  const top = Math.min(...entries.map((e) => e.level));
  const words = wordsWithin(entries);
  const isWanted = (e: OutlineLine) =>
    `${e.number ?? ''} ${e.title}`.toLowerCase().includes(filter.toLowerCase().trim());
  const end = pending ? endOf(entries, pending.section) : 0;
  const isMoving = pending !== null && !isIdle(entries, pending);

  const press = (event: KeyboardEvent, i: number) => {
    if (event.altKey && event.key.startsWith('Arrow') && canWrite && isTyped(entries[i])) {
      event.preventDefault();
      const from = pending?.section === i ? pending : { section: i, before: i, shift: 0 };
      moves.set(stepped(entries, from, event.key));
    } else if (pending && event.key === 'Enter') {
      event.preventDefault();
      moves.commit();
    } else if (pending && event.key === 'Escape') {
      event.preventDefault();
      moves.set(null);
    }
  };
  const over = (event: DragEvent<HTMLLIElement>, i: number) => {
    if (!pending) return;
    event.preventDefault();
    const box = event.currentTarget.getBoundingClientRect();
    const before = event.clientY < box.top + box.height / 2 ? i : i + 1;
    const shift = Math.round((event.clientX - drag.current.x) / LevelStep);
    if (before !== pending.before || shift !== pending.shift) moves.set({ ...pending, before, shift });
  };

  return (
    <div className="pb-2">
      {entries.length >= Many && (
        <input
          aria-label="Filter the headings"
          placeholder="Filter"
          className="mx-2 mb-1 w-[calc(100%-1rem)] rounded border border-rule bg-page/60 px-2 py-0.5 text-[12.5px]"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
        />
      )}
      <ol aria-label="Structure">
        {entries.map((e, i) => {
          if (!isWanted(e)) return null;
          const isOwn = pending !== null && i >= pending.section && i < end;
          const number = numbers ? numbers[i] : e.number;
          const isNew = numbers !== null && numbers[i] !== e.number;
          const own = found.get(i) ?? [];
          return (
            <li
              key={i}
              draggable={canWrite && isTyped(e)}
              onDragStart={(event) => {
                drag.current.x = event.clientX;
                event.dataTransfer.setData('text/plain', e.title);
                event.dataTransfer.effectAllowed = 'move';
                moves.set({ section: i, before: i, shift: 0 });
              }}
              onDragOver={(event) => over(event, i)}
              onDrop={(event) => {
                event.preventDefault();
                moves.commit();
              }}
              onDragEnd={() => moves.set(null)}
              className={`${isMoving && pending.before === i ? 'shadow-[inset_0_2px_0_var(--color-rubric)]' : ''} ${
                isMoving && pending.before === entries.length && i === entries.length - 1
                  ? 'shadow-[inset_0_-2px_0_var(--color-rubric)]'
                  : ''
              }`}
            >
              <HeadingMenu entry={e} section={i} canWrite={canWrite} moves={moves}>
                <button
                  ref={i === here ? current : undefined}
                  data-entry={i === here ? true : undefined}
                  aria-current={i === here ? 'location' : undefined}
                  aria-keyshortcuts={canWrite ? 'Alt+ArrowUp Alt+ArrowDown Alt+ArrowLeft Alt+ArrowRight' : undefined}
                  onClick={() => onTurn(e)}
                  onKeyDown={(event) => press(event, i)}
                  onBlur={() => pending?.section === i && !moves.isBusy && moves.set(null)}
                  title={`${e.title}\n${plural(words[i]!, 'word')}${canWrite && isTyped(e) ? '\nDrag it elsewhere, or Alt and an arrow: up, down, out and in\nRight button: more' : ''}`}
                  className={`relative flex w-full items-baseline gap-2 py-[3px] pr-2.5 text-left hover:bg-page/60 ${i === here ? 'bg-leaf font-semibold' : ''} ${isOwn ? 'bg-chosen' : ''}`}
                  style={{ paddingLeft: 12 + (e.level - top + (isOwn ? pending.shift : 0)) * 12 }}
                >
                  {i === here && <span className="absolute inset-y-0 left-0 w-[7px] bg-rubric" aria-hidden />}
                  <span
                    className={`w-7 shrink-0 font-serif text-[14px] font-medium ${isNew ? 'text-moss-ink underline' : 'text-rubric-ink'}`}
                  >
                    {number}
                  </span>
                  <span className="min-w-0 flex-1 truncate text-[12.5px]">{e.title}</span>
                  {own.length > 0 && (
                    <span
                      className={`shrink-0 text-[11px] ${own.some((f) => f.kind === 'fix') ? 'text-rubric-ink' : 'text-ochre-ink'}`}
                      title={own.map((f) => f.message).join('\n')}
                    >
                      <span aria-hidden>{own.some((f) => f.kind === 'fix') ? '●' : '▲'}</span>
                      {own.length}
                      <span className="sr-only"> {own.length === 1 ? 'finding' : 'findings'}</span>
                    </span>
                  )}
                  {others
                    .filter(
                      (o, at) =>
                        o.section === i &&
                        others.findIndex((x) => x.person.id === o.person.id && x.section === i) === at,
                    )
                    .map((o) => (
                      <span key={o.person.id} className="self-center">
                        <Initials person={o.person} small />
                        <span className="sr-only">{o.person.name} is here</span>
                      </span>
                    ))}
                  <span className="text-[12px] font-normal text-ink-2">{e.page}</span>
                </button>
              </HeadingMenu>
            </li>
          );
        })}
      </ol>
      <div className="sticky bottom-1 mt-2">
        {isMoving && !moves.problem && (
          <p role="status" className="mx-2 rounded bg-note px-2 py-1 text-[12.5px]">
            {numbers ? 'So it would be numbered.' : 'Looking at the numbers …'} Enter moves it, Escape leaves it.
          </p>
        )}
        {moves.problem && (
          <p role="alert" className="mx-2 flex gap-1 rounded bg-rubric-tint px-2 py-1 text-[12.5px] text-rubric-ink">
            <span className="min-w-0 flex-1">{moves.problem}</span>
            {!pending && (
              <button aria-label="Close" onClick={moves.forget}>
                <X className="size-3.5" aria-hidden />
              </button>
            )}
          </p>
        )}
        {moves.done && !pending && (
          <p role="status" className="mx-2 flex items-start gap-1 rounded bg-note px-2 py-1 text-[12.5px]">
            <span className="min-w-0 flex-1">{moves.done.words}</span>
            <button className="button px-1.5 py-0 text-[12px]" disabled={moves.isBusy} onClick={moves.takeBack}>
              <Undo2 className="size-3" aria-hidden /> Undo
            </button>
            <button aria-label="Close" className="p-0.5" onClick={moves.forget}>
              <X className="size-3.5" aria-hidden />
            </button>
          </p>
        )}
      </div>
    </div>
  );
}

/** What can be done with a section: by the right button, or Shift and F10. */
function HeadingMenu(props: {
  entry: OutlineLine;
  section: number;
  canWrite: boolean;
  moves: ReturnType<typeof useSectionMove>;
  children: ReactNode;
}) {
  const { entry, section, canWrite, moves, children } = props;
  if (!canWrite || !isTyped(entry)) return children;
  const step = (key: string, words: string) => (
    <ContextMenu.Item className={menuItem} onSelect={() => moves.step(section, key)}>
      {words}
    </ContextMenu.Item>
  );
  return (
    <ContextMenu.Root modal={false}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content
          className="z-[60] min-w-44 rounded border border-rule bg-leaf p-1 text-[13px] shadow-lg"
          aria-label={`More for ${entry.title}`}
        >
          {step('ArrowUp', 'Up')}
          {step('ArrowDown', 'Down')}
          {step('ArrowLeft', 'Out, a level higher')}
          {step('ArrowRight', 'In, a level lower')}
          <ContextMenu.Separator className="my-1 border-t border-rule" />
          <ContextMenu.Item className={menuItem} onSelect={() => moves.refile(entry, true)}>
            Into a file of its own
          </ContextMenu.Item>
          <ContextMenu.Item className={menuItem} onSelect={() => moves.refile(entry, false)}>
            Back out of its own file
          </ContextMenu.Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

const none: OutlineLine[] = [];
