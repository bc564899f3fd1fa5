import { useQuery } from '@tanstack/react-query';
import { Dialog } from 'radix-ui';
import { useEffect, useRef, useState, useSyncExternalStore, type KeyboardEvent } from 'react';
import { useNavigate } from 'react-router';
import { proofQuery, sourcesQuery } from '../api/queries';
import { written } from '../ui/keyNames';
import { useKey } from '../ui/useKey';
import { useReturnFocus } from '../ui/useReturnFocus';
import { actionsOf } from './actions';
import { useRoom } from './roomContext';
import { rooms } from './rooms';
import { fitting, kindNames, thingsOf, type Thing } from './things';

/** Reaches everything by its name: what can be done, rooms, files, sections, labels and sources. F4 opens it. */
export function ByName() {
  const [isOpen, setIsOpen] = useState(false);
  useKey('F4', () => setIsOpen(true));
  return isOpen && <Finder onClose={() => setIsOpen(false)} />;
}

function Finder({ onClose }: { onClose: () => void }) {
  const { manuscript, memory } = useRoom();
  const { data: proof } = useQuery(proofQuery(manuscript.id));
  const { data: sources } = useQuery(sourcesQuery(manuscript.id));
  const own = useSyncExternalStore(memory.listen, () => actionsOf(memory));
  const navigate = useNavigate();
  const returnFocus = useReturnFocus();
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const chosen = useRef<(() => void) | null>(null);
  const things = thingsOf({
    manuscript,
    rooms: rooms.filter((r) => r.isFor(manuscript.role)),
    report: proof?.report,
    sources: sources?.rows ?? [],
    actions: own.actions,
  });
  const shown = fitting(things, typed);
  const current = Math.min(at, shown.length - 1);

  const reach = ({ to }: Thing) => {
    const base = `/m/${manuscript.id}`;
    // Once the dialog is gone: what is done may put the focus elsewhere.
    chosen.current = () => {
      if ('run' in to) to.run();
      else if ('address' in to) void navigate(`${base}/${to.address}`);
      else if (own.goTo) own.goTo(to.file, to.line);
      else void navigate(`${base}/write?file=${encodeURIComponent(to.file)}&line=${to.line}`);
    };
    onClose();
  };
  const press = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 8, PageUp: -8 }[event.key];
    if (step) {
      event.preventDefault();
      setAt(Math.min(shown.length - 1, Math.max(0, current + step)));
    } else if (event.key === 'Enter' && shown[current]) {
      event.preventDefault();
      reach(shown[current]);
    }
  };
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => void row.current?.scrollIntoView({ block: 'nearest' }), [current]);

  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="overlay" />
        <Dialog.Content
          className="dialog top-[12vh] flex max-h-[70vh] w-[38rem] translate-y-0 flex-col p-0"
          aria-describedby={undefined}
          onCloseAutoFocus={(event) => {
            returnFocus(event);
            chosen.current?.();
          }}
        >
          <Dialog.Title className="sr-only">Everything by name</Dialog.Title>
          <input
            className="w-full rounded-t-md border-b border-rule bg-leaf px-4 py-3 text-[15px]"
            placeholder="An action, a file, a section, a label, a source …"
            role="combobox"
            aria-label="Name"
            aria-expanded
            aria-controls="by-name"
            aria-activedescendant={shown[current] ? `by-name-${current}` : undefined}
            spellCheck={false}
            autoFocus
            value={typed}
            onChange={(e) => {
              setTyped(e.target.value);
              setAt(0);
            }}
            onKeyDown={press}
          />
          <ul id="by-name" role="listbox" aria-label="Things" className="min-h-0 flex-1 overflow-y-auto py-1">
            {shown.map((thing, i) => (
              <li
                key={i}
                id={`by-name-${i}`}
                ref={i === current ? row : undefined}
                role="option"
                aria-selected={i === current}
                className={`flex cursor-default items-baseline gap-3 px-4 py-1.5 ${i === current ? 'bg-chosen' : 'hover:bg-paper'}`}
                onClick={() => reach(thing)}
              >
                <span className="w-14 shrink-0 text-[12px] text-ink-2">{kindNames[thing.kind]}</span>
                <span
                  className={`max-w-[60%] shrink-0 truncate ${/^(file|label|source)$/.test(thing.kind) ? 'font-mono text-[12.5px]' : ''}`}
                >
                  {thing.name}
                </span>
                <span className="min-w-0 flex-1 truncate text-[12.5px] text-ink-2">{thing.note}</span>
                {thing.key && <kbd className="shrink-0">{written(thing.key)}</kbd>}
              </li>
            ))}
          </ul>
          {shown.length === 0 && <p className="px-4 pb-4 text-ink-2">Nothing here has such a name.</p>}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
