import type { ReactNode } from 'react';
import { useKept } from '../ui/useKept';
import { hints, type Hint } from './source/hints';

/** How to leave the text by key, said once to each person: Tab indents there. */
export function WayOut() {
  const [known, setKnown] = useKept('way out is known', false);
  if (known) return null;
  return (
    <Note onKnown={() => setKnown(true)}>
      In the text, Tab indents. <kbd>Escape</kbd> and then <kbd>Tab</kbd> lead out of it; <kbd>F6</kbd> goes from leaf
      to leaf.
    </Note>
  );
}

/** What newcomers trip over, said to each person until it is known. */
export function HintOnce({ hint, onKnown }: { hint: Hint | null; onKnown: () => void }) {
  const [known, setKnown] = useKept<readonly Hint[]>('hints that are known', []);
  if (!hint || known.includes(hint)) return null;
  const know = () => {
    setKnown([...known, hint]);
    // One goes on writing.
    onKnown();
  };
  return <Note onKnown={know}>{hints[hint]}</Note>;
}

function Note({ onKnown, children }: { onKnown: () => void; children: ReactNode }) {
  return (
    <p
      role="status"
      className="flex shrink-0 items-center gap-3 border-b border-rule bg-note px-3 py-1.5 text-[12.5px] text-ink-2"
    >
      <span className="min-w-0 flex-1">{children}</span>
      <button className="button shrink-0 px-2 py-0.5" onClick={onKnown}>
        Got it
      </button>
    </p>
  );
}
