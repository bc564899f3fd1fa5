import { Keyboard } from 'lucide-react';
import { useEffect, useState } from 'react';
import { written } from '../ui/keyNames';
import { Panel } from '../ui/Panel';
import { isDialogOpen } from '../ui/useKey';
import { roomKeys, sourceKeys } from './source/keys';

const groups = [
  { name: 'In the text', keys: sourceKeys },
  { name: 'Everywhere in the room', keys: roomKeys },
];

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** The sheet of keys, by a button and by “?”. */
export function KeySheet() {
  const [isOpen, setIsOpen] = useState(false);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key !== '?' || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (isDialogOpen()) return;
      event.preventDefault();
      setIsOpen(true);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
  return (
    <>
      <button
        aria-label="Keys"
        title="Keys (?)"
        className="shrink-0 rounded p-1 text-ink-2 hover:bg-paper hover:text-ink"
        onClick={() => setIsOpen(true)}
      >
        <Keyboard className="size-4" aria-hidden />
      </button>
      {isOpen && (
        <Panel title="Keys" className="w-[34rem]" cross onClose={() => setIsOpen(false)}>
          {groups.map(({ name, keys }) => (
            <section key={name} className="mt-3 first:mt-0">
              <h3 className="font-semibold">{name}</h3>
              <dl className="mt-1.5 grid grid-cols-[9rem_1fr] gap-x-3 gap-y-1">
                {Object.entries(keys).map(([key, does]) => (
                  <div key={key} className="contents">
                    <dt>
                      <kbd>{written(key)}</kbd>
                    </dt>
                    <dd>{does}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </Panel>
      )}
    </>
  );
}
