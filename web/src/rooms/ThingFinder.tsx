import { Dialog } from 'radix-ui';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { written } from '../ui/keyNames';
import { useReturnFocus } from '../ui/useReturnFocus';
import { fitting, kindNames, type Thing } from './things';

interface Props {
  title: string;
  placeholder: string;
  things: readonly Thing[];
  /** What is said when there is nothing to find. */
  empty?: string;
  /** Done once the dialog is gone: it may put the focus elsewhere. */
  onReach: (thing: Thing) => void;
  onClose: () => void;
}

/** A dialog that finds a thing by words of its name. */
export function ThingFinder({ title, placeholder, things, empty, onReach, onClose }: Props) {
  const returnFocus = useReturnFocus();
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const chosen = useRef<Thing | null>(null);
  const shown = fitting(things, typed);
  const current = Math.min(at, shown.length - 1);
  const reach = (thing: Thing) => {
    chosen.current = thing;
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
            if (chosen.current) onReach(chosen.current);
          }}
        >
          <Dialog.Title className="sr-only">{title}</Dialog.Title>
          <input
            className="w-full rounded-t-md border-b border-rule bg-leaf px-4 py-3 text-[15px]"
            placeholder={placeholder}
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
          {shown.length === 0 && (
            <p className="px-4 pb-4 text-ink-2">{(things.length === 0 && empty) || 'Nothing here has such a name.'}</p>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
