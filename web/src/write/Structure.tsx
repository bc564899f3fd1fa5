import { Undo2, X } from 'lucide-react';
import { ContextMenu } from 'radix-ui';
import { useEffect, useRef, useState, type ReactElement, type SyntheticEvent } from 'react';
import type { Finding, ManuscriptFile, OutlineLine, Person, Report } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { menuItem } from '../ui/Menu';
import { Heading } from './Heading';
import { sectionAt, wordsWithin } from './outline';
import { endOf, isIdle, isTyped, stepped } from './sectionMove';
import { useSectionMove } from './useSectionMove';

/** So far to the side a heading is dragged for each level, in pixels. */
const LevelStep = 18;

/** So many headings are worth a filter. */
const Many = 12;

/** Which heading of the list something happened to. */
const sectionOf = (event: SyntheticEvent) => {
  const heading = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-section]') : null;
  return heading ? Number(heading.dataset.section) : -1;
};

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
  const people = new Map<number, Person[]>();
  for (const { person, place } of present) {
    const path = place && manuscript.files.find((x) => x.id === place.file)?.path;
    const at = path ? sectionAt(entries, path, place.line) : -1;
    const there = people.get(at) ?? [];
    // Somebody may be in the same section twice, in two tabs.
    if (at >= 0 && !there.some((p) => p.id === person.id)) people.set(at, [...there, person]);
  }
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
  const wanted = filter.toLowerCase().trim();
  const isWanted = (e: OutlineLine) => !wanted || `${e.number ?? ''} ${e.title}`.toLowerCase().includes(wanted);
  const end = pending ? endOf(entries, pending.section) : 0;
  const isMoving = pending !== null && !isIdle(entries, pending);
  const edgeOf = (i: number) => {
    if (!isMoving) return null;
    if (pending.before === i) return 'above';
    return pending.before === entries.length && i === entries.length - 1 ? 'below' : null;
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
      <HeadingMenu entries={entries} canWrite={canWrite} moves={moves}>
        <ol
          aria-label="Structure"
          onClick={(event) => {
            const entry = entries[sectionOf(event)];
            if (entry) onTurn(entry);
          }}
          onKeyDown={(event) => {
            const i = sectionOf(event);
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
          }}
          onBlur={(event) => pending?.section === sectionOf(event) && !moves.isBusy && moves.set(null)}
          onDragStart={(event) => {
            const i = sectionOf(event);
            drag.current.x = event.clientX;
            event.dataTransfer.setData('text/plain', entries[i]?.title ?? '');
            event.dataTransfer.effectAllowed = 'move';
            moves.set({ section: i, before: i, shift: 0 });
          }}
          onDragOver={(event) => {
            const i = sectionOf(event);
            if (!pending || i < 0) return;
            event.preventDefault();
            const box = (event.target as Element).closest('[data-section]')!.getBoundingClientRect();
            const before = event.clientY < box.top + box.height / 2 ? i : i + 1;
            const shift = Math.round((event.clientX - drag.current.x) / LevelStep);
            if (before !== pending.before || shift !== pending.shift) moves.set({ ...pending, before, shift });
          }}
          onDrop={(event) => {
            event.preventDefault();
            moves.commit();
          }}
          onDragEnd={() => moves.set(null)}
        >
          {entries.map((e, i) => {
            if (!isWanted(e)) return null;
            const isHeld = pending !== null && i >= pending.section && i < end;
            const own = found.get(i) ?? nothing;
            return (
              <Heading
                key={i}
                ref={i === here ? current : undefined}
                section={i}
                number={(numbers ? numbers[i] : e.number) ?? null}
                isNumberNew={numbers !== null && numbers[i] !== e.number}
                title={e.title}
                page={e.page}
                depth={e.level - top + (isHeld ? pending.shift : 0)}
                words={words[i]!}
                canMove={canWrite && isTyped(e)}
                canWrite={canWrite}
                isHere={i === here}
                isHeld={isHeld}
                edge={edgeOf(i)}
                findings={own.length}
                hasToFix={own.some((f) => f.kind === 'fix')}
                messages={own.map((f) => f.message).join('\n')}
                people={people.get(i) ?? nobody}
              />
            );
          })}
        </ol>
      </HeadingMenu>
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

/** What can be done with the section under the pointer, or of the heading with the focus: by the right button, or Shift and F10. */
function HeadingMenu(props: {
  entries: OutlineLine[];
  canWrite: boolean;
  moves: ReturnType<typeof useSectionMove>;
  children: ReactElement;
}) {
  const { entries, canWrite, moves, children } = props;
  const [section, setSection] = useState(-1);
  if (!canWrite) return children;
  const entry = entries[section];
  const step = (key: string, words: string) => (
    <ContextMenu.Item className={menuItem} onSelect={() => moves.step(section, key)}>
      {words}
    </ContextMenu.Item>
  );
  return (
    <ContextMenu.Root modal={false}>
      <ContextMenu.Trigger
        asChild
        // A long touch comes without the one of the right button.
        onPointerDown={(event) => setSection(sectionOf(event))}
        onContextMenu={(event) => {
          const at = sectionOf(event);
          setSection(at);
          // What nobody typed, such as a list of sources, stays where it is.
          if (!isTyped(entries[at])) event.preventDefault();
        }}
      >
        {children}
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content
          className="z-[60] min-w-44 rounded border border-rule bg-leaf p-1 text-[13px] shadow-lg"
          aria-label={`More for ${entry?.title ?? ''}`}
        >
          {step('ArrowUp', 'Up')}
          {step('ArrowDown', 'Down')}
          {step('ArrowLeft', 'Out, a level higher')}
          {step('ArrowRight', 'In, a level lower')}
          <ContextMenu.Separator className="my-1 border-t border-rule" />
          <ContextMenu.Item className={menuItem} onSelect={() => entry && moves.refile(entry, true)}>
            Into a file of its own
          </ContextMenu.Item>
          <ContextMenu.Item className={menuItem} onSelect={() => entry && moves.refile(entry, false)}>
            Back out of its own file
          </ContextMenu.Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

const none: OutlineLine[] = [];
const nothing: readonly Finding[] = [];
const nobody: readonly Person[] = [];
