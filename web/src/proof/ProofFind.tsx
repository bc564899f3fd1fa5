import { ChevronDown, ChevronUp, X } from 'lucide-react';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { SheetEntry } from '../api/client';
import { useStable } from '../ui/useStable';
import { digits } from '../ui/words';
import type { PageSpot } from './proofMap';
import { findOn } from './proofSearch';
import type { SheetStore } from './sheetStore';

const FindAfter = 150;

/** What was found in the proof: each place with the stretches of its lines. */
export type FoundInProof = readonly (readonly PageSpot[])[];

/** Finds words in the typeset pages, all of them. */
export function ProofFind(props: {
  entries: readonly SheetEntry[];
  sheets: SheetStore;
  /** The page in view: the first place from there on is shown first. */
  page: number;
  /** `at`: which of them is gone to; −1: none, they are of another proof. */
  onFound: (found: FoundInProof, at: number) => void;
  onClose: () => void;
}) {
  const { entries, sheets, page, onFound, onClose } = props;
  const [words, setWords] = useState('');
  const [found, setFound] = useState<FoundInProof>([]);
  const [at, setAt] = useState(0);
  const [isBusy, setIsBusy] = useState(false);
  const tell = useStable(onFound);
  const pageNow = useStable(() => page);
  const shownFor = useRef('');

  useEffect(() => {
    let gone = false;
    const look = async () => {
      setIsBusy(true);
      const all: PageSpot[][] = [];
      for (const [i, { digest }] of entries.entries()) {
        const content = await sheets.fetch(digest).catch(() => null);
        if (gone) return;
        if (content) all.push(...findOn(i + 1, content, words));
      }
      setIsBusy(false);
      setFound(all);
      // A new proof leaves the place that is shown; new words show the first from here on.
      const isNew = shownFor.current !== words;
      shownFor.current = words;
      const first = Math.max(
        0,
        all.findIndex((f) => f[0]!.sheet >= pageNow()),
      );
      setAt((was) => (isNew ? first : Math.min(was, Math.max(0, all.length - 1))));
      tell(all, isNew ? first : -1);
    };
    const timer = window.setTimeout(() => void look(), FindAfter);
    return () => {
      gone = true;
      window.clearTimeout(timer);
    };
  }, [words, entries, sheets, tell, pageNow]);

  const step = (by: 1 | -1) => {
    if (found.length === 0) return;
    const next = (at + by + found.length) % found.length;
    setAt(next);
    onFound(found, next);
  };
  const press = (event: KeyboardEvent) => {
    if (event.key === 'Enter') step(event.shiftKey ? -1 : 1);
    else if (event.key === 'Escape') onClose();
    else return;
    event.preventDefault();
  };
  const button = 'rounded p-1 text-ink-2 hover:bg-page';
  return (
    <div role="search" className="flex shrink-0 items-center gap-1.5 border-b border-rule bg-band px-2.5 py-1">
      <input
        aria-label="Find in the proof"
        placeholder="Find in the proof"
        className="min-w-0 flex-1 rounded border border-rule bg-page px-2 py-0.5"
        spellCheck={false}
        autoFocus
        value={words}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={press}
      />
      <span className="w-20 text-right text-[12.5px] text-ink-2" role="status">
        {words.trim() === ''
          ? ''
          : isBusy
            ? 'looking …'
            : found.length === 0
              ? 'not there'
              : `${digits(at + 1)} of ${digits(found.length)}`}
      </span>
      <button className={button} aria-label="The place before" onClick={() => step(-1)}>
        <ChevronUp className="size-3.5" aria-hidden />
      </button>
      <button className={button} aria-label="The next place" onClick={() => step(1)}>
        <ChevronDown className="size-3.5" aria-hidden />
      </button>
      <button className={button} aria-label="End finding" onClick={onClose}>
        <X className="size-3.5" aria-hidden />
      </button>
    </div>
  );
}
