import { useQuery } from '@tanstack/react-query';
import { PencilLine } from 'lucide-react';
import { Link } from 'react-router';
import { post, type Finding, type FormulaDrawing, type LabelEntry, type OutlineLine } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { isNamed } from '../write/completion/hover';
import { sectionAt } from '../write/outline';
import { bodyOf, nameOf } from './labels';

/** One label: what it names, where it is defined, and where it is used, with the sentence. */
export function LabelDetail(props: {
  label: LabelEntry;
  outline: readonly OutlineLine[];
  mends: readonly Finding[];
  onRename: () => void;
  onMend: (findings: Finding[]) => void;
}) {
  const { label, outline, mends, onRename, onMend } = props;
  const { manuscript, canWrite } = useRoom();
  const to = (file: string, line: number) => `/m/${manuscript.id}/write?file=${encodeURIComponent(file)}&line=${line}`;
  const shown = label.kind === 'equation' && label.number ? `(${label.number})` : label.number;
  return (
    <div>
      <header className="flex items-baseline gap-3 border-b border-rule px-4 py-3">
        {shown && <span className="font-serif text-[19px] text-rubric-ink">{shown}</span>}
        <h2 className="min-w-0 flex-1 font-serif text-[17px] leading-snug">
          {label.kind === 'equation' && !label.title ? 'Equation' : nameOf(label)}
        </h2>
        <span className="shrink-0 text-ink-2">
          {label.kind === 'missing' ? 'no label' : label.kind}
          {label.page && `, page ${label.page}`}
        </span>
      </header>
      <div className="flex flex-wrap items-start gap-4 px-4 py-3">
        <Picture label={label} />
        <div className="min-w-0">
          <p className="flex flex-wrap items-center gap-2">
            <span className="font-mono text-[13px] text-plum">{label.key}</span>
            {canWrite && label.kind !== 'missing' && (
              <button className="button px-2 py-0.5" onClick={onRename}>
                <PencilLine className="size-3.5" aria-hidden /> Rename everywhere
              </button>
            )}
          </p>
          {label.file && (
            <p className="mt-1.5">
              <Link
                className="text-slate underline decoration-slate/40 hover:decoration-slate"
                to={to(label.file, label.line ?? 1)}
              >
                {label.file}, line {label.line}
              </Link>
            </p>
          )}
          {label.kind === 'missing' && (
            <p className="mt-1.5 max-w-[36ch]">
              Nothing carries this label, so ?? is printed.
              {label.near && ` The nearest there is: ${label.near}.`}
            </p>
          )}
          {canWrite && mends.length > 0 && (
            <button className="button mt-2" onClick={() => onMend([...mends])}>
              {label.kind === 'missing' ? `Write ${label.near}` : 'Delete the label'}
            </button>
          )}
        </div>
      </div>
      <h3 className="px-4 text-[11px] font-semibold tracking-wide text-ink-2 uppercase">Where it is used</h3>
      {label.uses.length === 0 && <p className="px-4 py-2 text-ink-2">Nowhere: the text never refers to it.</p>}
      <ul aria-label="Where it is used">
        {label.uses.map((use) => {
          const section = outline[sectionAt(outline, use.file, use.line)];
          return (
            <li key={`${use.file} ${use.offset}`} className="border-b border-rule/70 last:border-0">
              <Link
                className="block px-4 py-2 leading-snug hover:bg-paper/60"
                to={to(use.file, use.line)}
                title={`${use.file}, line ${use.line}`}
              >
                <span className="mr-1.5 font-serif text-rubric-ink">{section?.number ?? section?.title}</span>
                {use.before}
                <mark className="rounded-sm bg-plum-tint px-1 text-plum">{shown ?? '??'}</mark>
                {use.after}
              </Link>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

/** What a label names, as it prints: a figure's picture, a formula drawn. */
function Picture({ label }: { label: LabelEntry }) {
  const { manuscript } = useRoom();
  const isFormula = label.kind === 'equation' && label.source !== null;
  const { data } = useQuery({
    queryKey: ['formula', manuscript.id, label.source],
    queryFn: () => post<FormulaDrawing>(`/api/manuscripts/${manuscript.id}/formula`, { text: label.source }),
    enabled: isFormula,
    staleTime: Infinity,
    retry: false,
  });
  if (isFormula)
    return data?.picture ? (
      <img
        className="max-h-24 max-w-full rounded border border-rule bg-sheet p-2"
        src={`data:image/svg+xml;utf8,${encodeURIComponent(data.picture.svg)}`}
        alt={`The formula as it prints: ${bodyOf(label.source ?? '')}`}
      />
    ) : null;
  return <FigurePicture label={label} className="max-h-32 max-w-44 rounded border border-rule bg-sheet p-1" />;
}

/** The picture of a figure; other words where it has none that a browser shows. */
export function FigurePicture(props: { label: LabelEntry; className: string; instead?: string }) {
  const { label, className, instead } = props;
  const { manuscript } = useRoom();
  const file = label.source ? manuscript.files.find((f) => !f.isText && isNamed(f.path, label.source!)) : undefined;
  if (!file || !/\.(png|jpe?g|svg)$/i.test(file.path))
    return instead ? <span className="font-serif text-[22px] text-ink-2">{instead}</span> : null;
  return (
    <img
      className={className}
      src={`/api/manuscripts/${manuscript.id}/files/${file.id}/content`}
      alt={label.title}
      loading="lazy"
    />
  );
}
