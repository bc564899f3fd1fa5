import { useEffect, useRef } from 'react';
import type { FirstPage } from '../api/client';
import { drawSheet } from './drawSheet';
import type { SheetContent } from './sheet';
import { SheetStore } from './sheetStore';

/** A page, drawn at some width; without a manuscript it has fonts and no pictures. */
export function DrawnPage(props: { page: FirstPage; width: number; manuscript?: number; label?: string }) {
  const { page, width, manuscript = 0, label } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const height = (page.height / page.width) * width;
  useEffect(() => {
    let gone = false;
    const sheets = new SheetStore(manuscript);
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
  }, [page, width, manuscript]);
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
