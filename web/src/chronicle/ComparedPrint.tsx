import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { getBlob } from '../api/client';
import { printComparisonQuery, printedChanges } from '../api/queries';
import { plural } from '../ui/words';
import { together } from './events';
import { openPdf, type OpenPdf } from './pdfPages';

/** Pages are drawn so wide, in pixels. */
const Wide = 620;

/** The later moment as it prints, with what came in and went marked on its pages, and the changes as a list. */
export function ComparedPrint({ manuscript, from, to }: { manuscript: number; from: number; to: number }) {
  const { data: made, error } = useQuery(printComparisonQuery(manuscript, from, to));
  const [pdf, setPdf] = useState<OpenPdf | null>(null);
  const [problem, setProblem] = useState('');
  const pages = useRef<HTMLDivElement>(null);
  const path = printedChanges(manuscript, from, to);
  useEffect(() => {
    if (!made) return;
    let open: OpenPdf | null = null;
    let gone = false;
    getBlob(path)
      .then(openPdf)
      .then(
        (found) => {
          open = found;
          if (gone) found.close();
          else setPdf(found);
        },
        (e: Error) => !gone && setProblem(e.message),
      );
    return () => {
      gone = true;
      setPdf(null);
      open?.close();
    };
  }, [made, path]);
  const why = error?.message ?? problem;
  if (why) return <p className="p-6 text-rubric">{why}</p>;
  if (!made || !pdf) return <p className="p-6 text-ink-2">Setting both and marking what changed …</p>;
  const turnTo = (sheet: number) => {
    const page = pages.current?.children[sheet - 1];
    // Only these pages move, not what stands around them.
    if (page instanceof HTMLElement) pages.current?.scrollTo({ top: page.offsetTop - 12 });
  };
  const changes = together(made.changes);
  return (
    <div className="flex h-full min-h-0">
      <div
        ref={pages}
        className="relative min-w-0 flex-1 overflow-auto bg-proof px-4 py-4"
        tabIndex={0}
        role="region"
        aria-label="Pages with changes"
      >
        {pdf.pages.map((page) => (
          <PdfPage key={page.number} pdf={pdf} number={page.number} ratio={page.ratio} />
        ))}
      </div>
      <aside className="w-[230px] shrink-0 overflow-y-auto border-l border-rule p-3">
        <p className="flex items-center justify-between text-ink-2">
          {plural(changes.length, 'change')}
          <a
            className="button px-2 py-0.5"
            href={`${path}&download=changes.pdf`}
            download
            title="The PDF with the changes"
          >
            <Download className="size-3.5" aria-hidden /> PDF
          </a>
        </p>
        <ol aria-label="Changes" className="mt-2">
          {changes.map((change, i) => (
            <li key={i}>
              <button
                data-change
                className="w-full border-b border-rule/60 py-1 text-left hover:bg-paper"
                onClick={() => turnTo(change.sheet)}
              >
                <span
                  className={`line-clamp-2 text-[12.5px] ${change.kind === 'inserted' ? 'text-moss-ink' : 'text-rubric-ink line-through'}`}
                >
                  {change.text}
                </span>
                <span className="text-[11.5px] text-ink-2">
                  {change.kind === 'inserted' ? 'came in' : 'went'}, page {change.page ?? '–'}
                </span>
              </button>
            </li>
          ))}
        </ol>
      </aside>
    </div>
  );
}

/** A page, drawn when it comes into view. */
function PdfPage({ pdf, number, ratio }: { pdf: OpenPdf; number: number; ratio: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const box = canvas.current;
    if (!box) return;
    let isDrawn = false;
    const watch = new IntersectionObserver(
      ([seen]) => {
        if (!seen?.isIntersecting || isDrawn) return;
        isDrawn = true;
        pdf.draw(number, box, Wide * window.devicePixelRatio).catch(() => (isDrawn = false));
      },
      { rootMargin: '600px' },
    );
    watch.observe(box);
    return () => watch.disconnect();
  }, [pdf, number]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`Page ${number}`}
      className="mx-auto mb-4 block bg-sheet shadow-[0_2px_9px_rgb(31_42_55/22%)]"
      style={{ width: Wide, height: Wide * ratio, maxWidth: '100%' }}
    />
  );
}
