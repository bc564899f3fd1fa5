import { useEffect, useRef } from 'react';
import type { FirstPage } from '../api/client';
import { drawSheet } from './drawSheet';
import type { SheetContent } from './sheet';
import { SheetStore } from './sheetStore';

/** A page that isn't of a manuscript, drawn at some width. */
export function DrawnPage({ page, width, label }: { page: FirstPage; width: number; label?: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const height = (page.height / page.width) * width;
  useEffect(() => {
    let gone = false;
    // It has fonts and no pictures.
    const sheets = new SheetStore(0);
    const content = page.content as SheetContent;
    sheets.prepare(content).then(
      () => {
        if (gone || !canvas.current) return;
        drawSheet(
          canvas.current,
          content,
          page.width,
          page.height,
          (width / page.width) * window.devicePixelRatio,
          sheets,
        );
      },
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, [page, width]);
  return (
    <canvas
      ref={canvas}
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      className="bg-sheet shadow-[1px_2px_6px_rgb(31_42_55/25%)]"
      style={{ width, height }}
    />
  );
}
