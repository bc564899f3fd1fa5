import { Link } from 'react-router';
import type { LabelEntry, Report } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { FigurePicture } from './LabelDetail';

/** Contents, lists of figures and tables and the index, as they will print. */
export function Lists({ report }: { report: Report }) {
  const top = Math.min(...report.outline.map((o) => o.level));
  const lists = [
    ['Figures', report.floats.filter((f) => f.kind === 'figure')],
    ['Tables', report.floats.filter((f) => f.kind === 'table')],
  ] as const;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-5 pb-6">
      <h2 className="pt-3 font-serif text-[17px] text-rubric-ink">Contents</h2>
      <ol aria-label="Contents">
        {report.outline.map((o, i) => (
          <Line key={i} number={o.number} title={o.title} page={o.page} depth={o.level - top}>
            {o.file && <ToSource file={o.file} line={o.line} words={o.title} />}
          </Line>
        ))}
      </ol>
      {lists.map(([name, floats]) => (
        <section key={name} aria-label={name}>
          <h2 className="pt-4 font-serif text-[17px] text-rubric-ink">{name}</h2>
          {floats.length === 0 && <p className="text-ink-2">None.</p>}
          <ol>
            {floats.map((f, i) => (
              <Line key={i} number={f.number} title={f.caption} page={f.page} depth={0} />
            ))}
          </ol>
        </section>
      ))}
      {report.index.length > 0 && (
        <section aria-label="Index">
          <h2 className="pt-4 font-serif text-[17px] text-rubric-ink">Index</h2>
          <ol>
            {report.index.map((e, i) => (
              <Line key={i} number={null} title={e.text} page={e.pages} depth={e.depth}>
                {e.file && <ToSource file={e.file} line={e.line} words={e.text} />}
              </Line>
            ))}
          </ol>
        </section>
      )}
    </div>
  );
}

function ToSource({ file, line, words }: { file: string; line: number | null; words: string }) {
  const { manuscript } = useRoom();
  return (
    <Link
      className="hover:underline"
      to={`/m/${manuscript.id}/write?file=${encodeURIComponent(file)}&line=${line ?? 1}`}
    >
      {words}
    </Link>
  );
}

function Line(props: {
  number: string | null;
  title: string;
  page: string | null;
  depth: number;
  children?: React.ReactNode;
}) {
  const { number, title, page, depth, children } = props;
  return (
    <li className="flex items-baseline gap-2 py-0.5" style={{ paddingLeft: depth * 18 }}>
      <span className="w-9 shrink-0 font-serif text-rubric-ink">{number}</span>
      <span className={`min-w-0 ${depth === 0 ? 'font-medium' : ''}`}>{children ?? title}</span>
      <span className="min-w-4 flex-1 border-b border-dotted border-edge" aria-hidden />
      <span className="text-ink-2">{page}</span>
    </li>
  );
}

/** Figures and tables side by side. */
export function Gallery(props: { labels: LabelEntry[]; chosen: string; onChoose: (key: string) => void }) {
  const { labels, chosen, onChoose } = props;
  if (labels.length === 0) return <p className="p-5 text-ink-2">No figure or table carries a label.</p>;
  return (
    <ul
      aria-label="Figures and tables"
      className="grid min-h-0 flex-1 auto-rows-min grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-3 overflow-y-auto p-4"
    >
      {labels.map((l) => (
        <li key={l.key}>
          <button
            aria-current={l.key === chosen || undefined}
            className={`flex h-full w-full flex-col rounded border p-2 text-left ${l.key === chosen ? 'border-rubric bg-chosen' : 'border-rule hover:bg-paper/60'}`}
            onClick={() => onChoose(l.key)}
          >
            <span className="flex h-28 w-full items-center justify-center rounded bg-paper">
              <FigurePicture label={l} className="max-h-28 max-w-full bg-sheet" instead={l.kind} />
            </span>
            <span className="mt-1.5 line-clamp-2 leading-snug">
              <span className="mr-1.5 font-serif text-rubric-ink">{l.number}</span>
              {l.title}
            </span>
            <span className="mt-auto pt-1 text-[12px] text-ink-2">
              page {l.page ?? '–'}, {l.uses.length === 0 ? 'never mentioned' : `mentioned ${l.uses.length} ×`}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
