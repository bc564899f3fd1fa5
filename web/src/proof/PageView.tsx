import { useLayoutEffect, useMemo, useRef, useState, type MouseEvent } from 'react';
import type { SheetEntry } from '../api/client';
import { drawSheet } from './drawSheet';
import type { Note } from './onPages';
import type { PageSpot } from './proofMap';
import { linkAt, type SheetContent } from './sheet';
import type { SheetStore } from './sheetStore';
import { fillTextLayer } from './textLayer';

/** What can't be had is asked for again after this time, in milliseconds. */
const RetryAfter = 1500;

/** The text of a page that is being written is made when its ink has come to rest, in milliseconds. */
const TextAfter = 40;

interface Props {
  sheets: SheetStore;
  entry: SheetEntry;
  /** From 1. */
  sheet: number;
  scale: number;
  top: number;
  left: number;
  spot: PageSpot | null;
  /** What is found on the page when it is drawn: words with something to fix. */
  findMarks: (sheet: number, content: SheetContent) => PageSpot[];
  findNotes: (sheet: number, content: SheetContent) => Note[];
  /** What was looked for. */
  found: { spot: PageSpot; isShown: boolean }[];
  onClick: (sheet: number, content: SheetContent, x: number, y: number, event: MouseEvent) => void;
  /** The page shows what it should, ink and words, or can't: why. */
  onDrawn: (sheet: number, digest: string, problem: string) => void;
}

/** One page: its ink, its words over it for selecting, and what is marked on it. The last ink stays until the new one is drawn. */
export function PageView(props: Props) {
  const { sheets, entry, sheet, scale, top, left, spot, findMarks, findNotes, found, onClick, onDrawn } = props;
  const { digest, width, height } = entry;
  const ink = useRef<HTMLDivElement>(null);
  const words = useRef<HTMLDivElement>(null);
  const [content, setContent] = useState<SheetContent | null>(null);

  useLayoutEffect(() => {
    let gone = false;
    let retry = 0;
    let text = 0;
    const draw = (drawn: SheetContent) => {
      const ratio = window.devicePixelRatio || 1;
      const canvas = document.createElement('canvas');
      canvas.style.cssText = `position:absolute;left:0;top:0;width:${width * scale}px;height:${height * scale}px`;
      canvas.setAttribute('aria-hidden', 'true');
      drawSheet(canvas, drawn, width, height, scale * ratio, sheets);
      ink.current?.replaceChildren(canvas);
      setContent(drawn);
    };
    const finish = (drawn: SheetContent) => {
      draw(drawn);
      text = window.setTimeout(() => {
        if (words.current) fillTextLayer(words.current, drawn, scale);
        onDrawn(sheet, digest, '');
      }, TextAfter);
    };
    const get = async () => {
      const found = await sheets.fetch(digest);
      if (gone) return;
      // The first words needn't wait for pictures.
      if (sheets.hasFonts(found) && ink.current?.childElementCount === 0) draw(found);
      await sheets.prepare(found);
      if (!gone) finish(found);
    };
    const attempt = () => {
      get().catch(() => {
        if (gone) return;
        onDrawn(sheet, digest, 'The pages can’t be fetched just now; the last ones stay.');
        retry = window.setTimeout(attempt, RetryAfter);
      });
    };
    const known = sheets.find(digest);
    if (known && sheets.isReady(known)) finish(known);
    else attempt();
    return () => {
      gone = true;
      window.clearTimeout(retry);
      window.clearTimeout(text);
    };
  }, [sheets, digest, width, height, sheet, scale, onDrawn]);

  const marks = useMemo(() => (content ? findMarks(sheet, content) : []), [findMarks, sheet, content]);
  const notes = useMemo(() => (content ? findNotes(sheet, content) : []), [findNotes, sheet, content]);

  const at = (event: MouseEvent): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - box.left) / scale, (event.clientY - box.top) / scale];
  };
  // Where a link is, the page says what leads there.
  const hover = (event: MouseEvent<HTMLDivElement>) => {
    if (!content) return;
    const [x, y] = at(event);
    const link = linkAt(content, x, y);
    const title = link ? `${navigator.platform.startsWith('Mac') ? '⌘' : 'Ctrl'} and click: ${whereTo(link)}` : '';
    if (event.currentTarget.title !== title) event.currentTarget.title = title;
  };

  return (
    <div
      className="absolute bg-sheet shadow-[0_2px_9px_rgb(31_42_55/22%)]"
      style={{ top, left, width: width * scale, height: height * scale }}
      data-sheet={sheet}
    >
      <div ref={ink} className="absolute inset-0 overflow-clip" />
      {spot && (
        <div
          className="pointer-events-none absolute z-10 bg-paper-mark/45 mix-blend-multiply"
          style={{
            left: 0.09 * width * scale,
            right: 0.09 * width * scale,
            top: spot.y * scale - 1,
            height: spot.height * scale * 1.25 + 2,
          }}
          aria-hidden
        />
      )}
      {found.map(({ spot: at, isShown }, i) => (
        <div
          key={i}
          data-testid="found"
          className={`pointer-events-none absolute z-10 mix-blend-multiply ${isShown ? 'bg-paper-mark outline-2 outline-rubric' : 'bg-paper-mark/60'}`}
          style={{ left: at.x * scale, top: at.y * scale, width: at.width * scale, height: at.height * scale * 1.15 }}
          aria-hidden
        />
      ))}
      {marks.map((mark) => (
        <div key={`${mark.x} ${mark.y}`} data-testid="mark" aria-hidden>
          <div
            className="pointer-events-none absolute z-10 h-[1.5px] bg-rubric"
            style={{
              left: mark.x * scale,
              width: Math.max(3, mark.width * scale),
              top: (mark.y + mark.height) * scale,
            }}
          />
          <div
            className="pointer-events-none absolute left-1 z-10 w-[3px] bg-rubric"
            style={{ top: mark.y * scale, height: mark.height * scale * 1.2 }}
          />
        </div>
      ))}
      {notes.map((note) => (
        <span
          key={note.key}
          className="absolute right-0 z-10 rounded-l px-1.5 py-px text-[11px] font-medium text-white"
          style={{ top: note.y * scale, background: note.colour }}
        >
          {note.name}
        </span>
      ))}
      <div
        ref={words}
        className="proof-text"
        role="presentation"
        onMouseMove={hover}
        onClick={(event) => {
          if (window.getSelection()?.toString() || !content) return;
          const [x, y] = at(event);
          onClick(sheet, content, x, y, event);
        }}
      />
    </div>
  );
}

const whereTo = ([, , , , target, isOutside]: SheetContent['links'][number]) =>
  isOutside ? target : 'to the place it names';
