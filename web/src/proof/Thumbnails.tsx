import { useEffect, useRef } from 'react';
import type { SheetEntry } from '../api/client';
import { drawSheet } from './drawSheet';
import type { SheetStore } from './sheetStore';

/** How wide a small page is, in pixels. */
const Wide = 78;

/** All pages, small: a click turns to one. */
export function Thumbnails(props: {
  entries: readonly SheetEntry[];
  sheets: SheetStore;
  /** The page in view, from 1. */
  current: number;
  onTurn: (sheet: number) => void;
}) {
  const { entries, sheets, current, onTurn } = props;
  const here = useRef<HTMLLIElement>(null);
  useEffect(() => void here.current?.scrollIntoView({ block: 'nearest' }), [current]);
  return (
    <ol
      aria-label="All pages"
      className="flex w-[104px] shrink-0 flex-col items-center gap-2 overflow-y-auto border-r border-edge bg-band py-3"
    >
      {entries.map((entry, i) => (
        <li key={i} ref={i + 1 === current ? here : undefined}>
          <button
            aria-label={`Page ${i + 1}`}
            aria-current={i + 1 === current ? 'page' : undefined}
            className={`block text-[11px] ${i + 1 === current ? 'font-semibold' : 'text-ink-2'}`}
            onClick={() => onTurn(i + 1)}
          >
            <SmallPage entry={entry} sheets={sheets} isCurrent={i + 1 === current} />
            {entry.label}
          </button>
        </li>
      ))}
    </ol>
  );
}

/** A page is drawn when it comes into view, and anew when it has changed. */
export function SmallPage(props: { entry: SheetEntry; sheets: SheetStore; isCurrent: boolean; wide?: number }) {
  const { entry, sheets, isCurrent, wide = Wide } = props;
  const host = useRef<HTMLSpanElement>(null);
  const { digest, width, height } = entry;
  const scale = wide / width;
  useEffect(() => {
    let gone = false;
    const draw = async () => {
      const content = await sheets.fetch(digest);
      await sheets.prepare(content);
      if (gone) return;
      const canvas = document.createElement('canvas');
      canvas.style.cssText = 'width:100%;height:100%';
      canvas.setAttribute('aria-hidden', 'true');
      drawSheet(canvas, content, width, height, scale * (window.devicePixelRatio || 1), sheets);
      host.current?.replaceChildren(canvas);
    };
    const watch = new IntersectionObserver((seen) => {
      if (!seen.some((s) => s.isIntersecting)) return;
      watch.disconnect();
      // What can't be had now is drawn when the next proof is there.
      draw().catch(() => undefined);
    });
    watch.observe(host.current!);
    return () => {
      gone = true;
      watch.disconnect();
    };
  }, [sheets, digest, width, height, scale]);
  return (
    <span
      ref={host}
      className={`mb-0.5 block bg-sheet shadow-[0_1px_4px_rgb(31_42_55/25%)] ${isCurrent ? 'outline-2 outline-rubric' : ''}`}
      style={{ width: wide, height: height * scale }}
    />
  );
}
