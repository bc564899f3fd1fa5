import { RotateCcw } from 'lucide-react';
import { Link } from 'react-router';
import type { ComparedFile, PassageChange } from '../api/client';
import { plural } from '../ui/words';
import { sectionsOf, shortened } from './events';

const became = { new: 'new', gone: 'gone', changed: '' } as const;

/** The files in which two moments differ, passage by passage and word by word. */
export function ComparedSource(props: {
  manuscript: number;
  files: readonly ComparedFile[];
  /** Whether passages can be brought back: they are compared with what is there now. */
  canBring: boolean;
  isBusy: boolean;
  /** Brings passages of a file back: one, or those of a section. */
  onBring: (file: number, passages: readonly PassageChange[]) => void;
  onRestore: (file: ComparedFile) => void;
}) {
  const { manuscript, files, canBring, isBusy, onBring, onRestore } = props;
  if (files.length === 0) return <p className="p-6 text-ink-2">Nothing differs between these two moments.</p>;
  return (
    <div className="px-5 pb-8">
      {files.map((file) => (
        <section key={file.id} aria-label={file.path}>
          <h2 className="sticky top-0 z-10 flex items-baseline gap-2 border-b border-rule bg-leaf pt-3 pb-1">
            <span className="font-mono text-[13px]">{file.path}</span>
            {file.pathBefore && <span className="text-[12.5px] text-ink-2">was {file.pathBefore}</span>}
            {became[file.change] && (
              <span
                className={`chip ${file.change === 'new' ? 'bg-moss-tint text-moss-ink' : 'bg-rubric-tint text-rubric-ink'}`}
              >
                {became[file.change]}
              </span>
            )}
            {!file.isText && file.change === 'changed' && (
              <span className="chip bg-ochre-tint text-ochre-ink">replaced</span>
            )}
            <span className="text-[12.5px] text-ink-2">
              {file.isText && `+${plural(file.wordsIn, 'word')}, −${file.wordsOut}`}
            </span>
            {canBring && file.change !== 'new' && (
              <button
                className="ml-auto inline-flex items-center gap-1 text-[12.5px] text-slate underline"
                disabled={isBusy}
                onClick={() => onRestore(file)}
              >
                <RotateCcw className="size-3" aria-hidden /> The whole file as it was
              </button>
            )}
          </h2>
          {sectionsOf(file.passages).map(({ change, section }, i) => (
            <Passage
              key={i}
              manuscript={manuscript}
              file={file}
              change={change}
              canBring={canBring && file.change === 'changed'}
              isBusy={isBusy}
              section={section.length}
              onBring={() => onBring(file.id, [change])}
              onBringSection={() => onBring(file.id, section)}
            />
          ))}
        </section>
      ))}
    </div>
  );
}

function Passage(props: {
  manuscript: number;
  file: ComparedFile;
  change: PassageChange;
  canBring: boolean;
  isBusy: boolean;
  /** Of the first passage of a section: how many it has; 0 of the others. */
  section: number;
  onBring: () => void;
  onBringSection: () => void;
}) {
  const { manuscript, file, change, canBring, isBusy, section, onBring, onBringSection } = props;
  const { place, passage, movedFrom, movedTo } = change;
  return (
    <div data-change className="group scroll-mt-10 border-b border-rule/60 py-2" tabIndex={-1}>
      <p className="flex items-baseline gap-2 text-[12.5px] text-ink-2">
        {place ? (
          <Link
            to={`/m/${manuscript}/write?file=${encodeURIComponent(file.path)}`}
            className="font-serif text-[13.5px] text-rubric-ink hover:underline"
          >
            {place.number} {place.title}
          </Link>
        ) : (
          <span>before the first heading</span>
        )}
        {movedFrom && <span className="chip bg-slate-tint text-slate">moved here from {movedFrom}</span>}
        {movedTo && <span className="chip bg-slate-tint text-slate">moved to {movedTo}</span>}
        {canBring && (
          <button
            className="ml-auto text-slate underline opacity-0 group-hover:opacity-100 focus-visible:opacity-100"
            disabled={isBusy}
            onClick={onBring}
          >
            Bring this back
          </button>
        )}
        {canBring && section > 1 && (
          <button className="text-slate underline" disabled={isBusy} onClick={onBringSection}>
            The whole section as it was
          </button>
        )}
      </p>
      <p className="mt-0.5 text-[14px] leading-relaxed [overflow-wrap:anywhere] whitespace-pre-wrap">
        {shortened(passage.pieces).map((piece, i) =>
          piece.kind === 'in' ? (
            <ins
              key={i}
              className={`${movedFrom ? 'bg-slate-tint text-ink decoration-slate' : 'bg-moss-tint decoration-moss'}`}
            >
              {piece.text}
            </ins>
          ) : piece.kind === 'out' ? (
            <del key={i} className={`${movedTo ? 'bg-slate-tint text-ink-2' : 'bg-rubric-tint text-rubric-ink'}`}>
              {piece.text}
            </del>
          ) : (
            <span key={i}>{piece.text}</span>
          ),
        )}
      </p>
    </div>
  );
}
