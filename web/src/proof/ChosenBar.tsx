import { useEffect, useState, type RefObject } from 'react';
import type { SourcePlace } from './proofMap';

/** Words that are chosen on the pages, as a stretch of their source. */
export interface ChosenPassage {
  file: string;
  from: number;
  to: number;
}

/** What can be done with words on the pages. */
export type PassageAct = 'note' | 'suggest';

/** So far inside a chosen stretch its first and its last letter are looked for, in pixels. */
const Inside = 1.5;

/** A small bar at words that were chosen on the pages: what one has to say of them. */
export function ChosenBar(props: {
  pages: RefObject<HTMLElement | null>;
  /** The source at a point of the window. */
  sourceAt: (x: number, y: number) => SourcePlace | null;
  onAct: (act: PassageAct, passage: ChosenPassage) => void;
}) {
  const { pages, sourceAt, onAct } = props;
  const [place, setPlace] = useState<{ left: number; top: number } | null>(null);
  useEffect(() => {
    const box = pages.current;
    const look = () => {
      const rects = chosenRects(box);
      const last = rects.at(-1);
      const edge = box?.getBoundingClientRect();
      if (!last || !edge) return setPlace(null);
      setPlace({
        left: Math.min(last.right + 4, edge.right - 150),
        top: Math.min(Math.max(last.bottom + 4, edge.top), edge.bottom - 40),
      });
    };
    const end = () => setPlace(null);
    const changed = () => getSelection()?.isCollapsed !== false && end();
    // While words are being chosen, nothing stands in the way.
    document.addEventListener('selectionchange', changed);
    box?.addEventListener('pointerup', look);
    box?.addEventListener('keyup', look);
    box?.addEventListener('scroll', end, { passive: true });
    return () => {
      document.removeEventListener('selectionchange', changed);
      box?.removeEventListener('pointerup', look);
      box?.removeEventListener('keyup', look);
      box?.removeEventListener('scroll', end);
    };
  }, [pages]);
  if (!place) return null;
  const act = (what: PassageAct) => {
    const rects = chosenRects(pages.current);
    const [first, last] = [rects[0], rects.at(-1)];
    const from = first && sourceAt(first.left + Inside, (first.top + first.bottom) / 2);
    const to = last && sourceAt(last.right - Inside, (last.top + last.bottom) / 2);
    if (!from || !to) return;
    // Notes at the foot and captions stand elsewhere in the source than what is around them: then the beginning counts.
    const isOne = from.file === to.file && to.offset >= from.offset;
    onAct(what, { file: from.file, from: from.offset, to: isOne ? to.offset + 1 : from.offset + 1 });
    getSelection()?.removeAllRanges();
  };
  return (
    <div
      role="toolbar"
      aria-label="With the words on the page"
      className="fixed z-40 flex select-none gap-0.5 rounded border border-rule bg-leaf p-0.5 text-[12.5px] shadow-lg"
      style={place}
      // The words stay chosen while the pointer is down.
      onMouseDown={(event) => event.preventDefault()}
    >
      <button className="rounded px-2 py-0.5 hover:bg-tint" onClick={() => act('note')}>
        Note
      </button>
      <button className="rounded px-2 py-0.5 hover:bg-tint" onClick={() => act('suggest')}>
        Suggest
      </button>
    </div>
  );
}

/** Where the chosen words stand in the window; nothing where none are chosen on these pages. */
function chosenRects(pages: HTMLElement | null): DOMRect[] {
  const selection = getSelection();
  if (!pages || !selection || selection.isCollapsed || selection.rangeCount === 0) return [];
  const range = selection.getRangeAt(0);
  if (!pages.contains(range.commonAncestorContainer)) return [];
  return [...range.getClientRects()].filter((r) => r.width > 2 && r.height > 2);
}
