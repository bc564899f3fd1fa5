import { useEffect, useState, type RefObject } from 'react';
import type { PlaceFound } from './proofMap';

/** Words that are chosen on the pages, as a stretch of their source. */
export interface ChosenPassage {
  file: string;
  from: number;
  to: number;
  /** It is a point: the formula, the picture or the word there is meant. */
  isPoint?: boolean;
  /** Of a point beside all words, as in a picture: places of the words around, those below first. */
  around?: number[];
}

/** What can be done with words on the pages. */
export type PassageAct = 'note' | 'suggest';

/** So far inside a chosen stretch its first and its last letter are looked for, in pixels. */
const Inside = 1.5;

/** Words are looked for above and below a picture so many steps far, each of so many pixels: its caption tells where it stands. */
const [Steps, Step] = [40, 12];

/** A small bar at words that were chosen on the pages, or at what was clicked on with the other button: what one has to say of it. */
export function ChosenBar(props: {
  pages: RefObject<HTMLElement | null>;
  /** The source at a point of the window. */
  sourceAt: (x: number, y: number) => PlaceFound | null;
  onAct: (act: PassageAct, passage: ChosenPassage) => void;
}) {
  const { pages, sourceAt, onAct } = props;
  const [place, setPlace] = useState<{ left: number; top: number; point?: ChosenPassage } | null>(null);
  useEffect(() => {
    const box = pages.current;
    const look = (event: Event) => {
      // The other button is let go.
      if ((event as PointerEvent).button === 2) return;
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
    const point = (event: MouseEvent) => {
      // Words that are chosen keep the browser’s menu: they can be copied.
      const found = chosenRects(box).length === 0 && sourceAt(event.clientX, event.clientY);
      if (!found) return;
      event.preventDefault();
      const { file, offset } = found;
      const near = (by: number) => sourceAt(event.clientX, event.clientY + by);
      const around = found.isBeside
        ? Array.from({ length: Steps * 2 }, (_, i) => near(i < Steps ? (i + 1) * Step : (Steps - i - 1) * Step))
            .filter((p) => p?.file === file && !p.isBeside)
            .map((p) => p!.offset)
        : undefined;
      setPlace({
        left: event.clientX + 4,
        top: event.clientY + 4,
        point: { file, from: offset, to: offset, isPoint: true, around },
      });
    };
    // A point stays where it is: the click itself ends what was chosen before.
    const changed = () => getSelection()?.isCollapsed !== false && setPlace((now) => (now?.point ? now : null));
    // While words are being chosen, nothing stands in the way.
    document.addEventListener('selectionchange', changed);
    box?.addEventListener('pointerup', look);
    box?.addEventListener('keyup', look);
    box?.addEventListener('contextmenu', point);
    box?.addEventListener('scroll', end, { passive: true });
    return () => {
      document.removeEventListener('selectionchange', changed);
      box?.removeEventListener('pointerup', look);
      box?.removeEventListener('keyup', look);
      box?.removeEventListener('contextmenu', point);
      box?.removeEventListener('scroll', end);
    };
  }, [pages, sourceAt]);
  if (!place) return null;
  const act = (what: PassageAct) => {
    if (place.point) {
      setPlace(null);
      return onAct(what, place.point);
    }
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
      aria-label={place.point ? 'With what is here' : 'With the words on the page'}
      className="fixed z-40 flex select-none gap-0.5 rounded border border-rule bg-leaf p-0.5 text-[12.5px] shadow-lg"
      style={{ left: place.left, top: place.top }}
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
