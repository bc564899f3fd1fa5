import { ChevronDown, ChevronUp } from 'lucide-react';
import { memo, useState } from 'react';
import type { Finding } from '../api/client';
import { useKept } from '../ui/useKept';
import { useLow } from '../ui/useNarrow';
import { mendName } from '../ui/mendName';

const kinds = {
  fix: { name: 'to fix', sign: '●', text: 'text-rubric', chip: 'bg-rubric-tint text-rubric-ink' },
  check: { name: 'to check', sign: '▲', text: 'text-ochre', chip: 'bg-ochre-tint text-ochre-ink' },
  layout: { name: 'about the layout', sign: '■', text: 'text-ink-2', chip: 'bg-tint text-ink-2' },
};
type Kind = keyof typeof kinds;

/** What the compiler has to say, under the source leaf. */
export const FindingsPane = memo(function FindingsPane(props: {
  findings: Finding[];
  canWrite: boolean;
  /** Why a mend wasn't carried out; empty when there is nothing to say. */
  problem: string;
  onGo: (finding: Finding) => void;
  onMend: (finding: Finding) => void;
}) {
  const isLow = useLow();
  const [open, setOpen] = useKept('findings', true);
  // In a low window it opens when one asks for it.
  const [openLow, setOpenLow] = useState(false);
  const isOpen = isLow ? openLow : open;
  const { findings } = props;
  return (
    <section aria-label="Findings" data-leaf="findings" className="shrink-0 border-t border-rule bg-leaf">
      <button
        className="flex w-full items-center gap-2 px-3 py-1.5 text-left"
        aria-expanded={isOpen}
        onClick={() => (isLow ? setOpenLow(!openLow) : setOpen(!open))}
      >
        <span className="font-medium">Findings</span>
        {(Object.keys(kinds) as Kind[]).map((k) => {
          const n = findings.filter((f) => f.kind === k).length;
          return n > 0 ? (
            <span key={k} className={`chip ${kinds[k].chip}`}>
              {n} {kinds[k].name}
            </span>
          ) : null;
        })}
        <span className="ml-auto truncate text-[12.5px] text-ink-2">
          {findings.length === 0 ? 'nothing found' : 'all pages are there all the same'}
        </span>
        {isOpen ? (
          <ChevronDown className="size-4 shrink-0 text-ink-2" aria-hidden />
        ) : (
          <ChevronUp className="size-4 shrink-0 text-ink-2" aria-hidden />
        )}
      </button>
      {props.problem && (
        <p role="alert" className="border-t border-rule bg-note px-3 py-1.5">
          {props.problem}
        </p>
      )}
      {isOpen && findings.length > 0 && (
        <ul className="max-h-[min(170px,30vh)] overflow-y-auto border-t border-rule">
          {findings.map((f, i) => {
            const kind = kinds[f.kind as Kind];
            return (
              <li key={i} className="flex items-start gap-2.5 border-b border-rule px-3 py-2 last:border-0">
                <span className={`mt-0.5 text-[10px] ${kind.text}`} aria-hidden>
                  {kind.sign}
                </span>
                <button className="min-w-0 flex-1 text-left" onClick={() => props.onGo(f)}>
                  <span className="sr-only">{kind.name}: </span>
                  <span className="font-medium">{f.message}</span>{' '}
                  <span className="text-[12px] whitespace-nowrap text-ink-2">
                    {f.file ? `${f.file}, line ${f.line}` : ''}
                  </span>
                  <span className="block text-[12.5px] text-ink-2">{f.advice}</span>
                </button>
                {f.repair && props.canWrite && (
                  <button className="button shrink-0 py-0.5" onClick={() => props.onMend(f)}>
                    {mendName(f.repair)}
                  </button>
                )}
              </li>
            );
          })}
        </ul>
      )}
    </section>
  );
});
