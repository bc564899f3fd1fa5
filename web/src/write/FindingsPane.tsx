import { ChevronDown, ChevronRight, ChevronUp } from 'lucide-react';
import { memo, useState, type ReactNode } from 'react';
import type { Finding } from '../api/client';
import { mendName } from '../ui/mendName';
import { useKept } from '../ui/useKept';
import { useKey } from '../ui/useKey';
import { useLow } from '../ui/useNarrow';
import { useRoom } from '../rooms/roomContext';
import { moment } from '../ui/time';
import type { LeftRemark } from './useLeft';
import { causeOf, groupsOf, mendOfAll, type FindingGroup } from './findingGroups';

const kinds = {
  fix: { name: 'to fix', sign: '●', text: 'text-rubric', chip: 'bg-rubric-tint text-rubric-ink' },
  check: { name: 'to check', sign: '▲', text: 'text-ochre', chip: 'bg-ochre-tint text-ochre-ink' },
  layout: { name: 'about the layout', sign: '■', text: 'text-ink-2', chip: 'bg-tint text-ink-2' },
};
type Kind = keyof typeof kinds;

interface Props {
  findings: Finding[];
  canWrite: boolean;
  /** Why a mend wasn't carried out; empty when there is nothing to say. */
  problem: string;
  onGo: (finding: Finding) => void;
  onMend: (finding: Finding) => void;
  onMendAll: (findings: Finding[]) => void;
  /** Remarks that are left as they are. */
  left: readonly LeftRemark[];
  onLeave: (finding: Finding) => void;
  onTakeUp: (remark: number) => void;
}

/** What the compiler has to say, under the source leaf. */
export const FindingsPane = memo(function FindingsPane(props: Props) {
  const { findings, problem, left, canWrite, onGo, onTakeUp } = props;
  const { people } = useRoom().manuscript;
  const [showsLeft, setShowsLeft] = useState(false);
  const isLow = useLow();
  const [open, setOpen] = useKept('findings', true);
  // In a low window it opens when one asks for it.
  const [openLow, setOpenLow] = useState(false);
  const isOpen = isLow ? openLow : open;
  const setShown = isLow ? setOpenLow : setOpen;
  const [only, setOnly] = useState<Kind | null>(null);
  const [at, setAt] = useState(-1);
  const shown = only ? findings.filter((f) => f.kind === only) : findings;
  const current = shown[at];

  const go = (finding: Finding) => {
    setAt(shown.indexOf(finding));
    onGo(finding);
  };
  useKey('F8', (isShifted) => {
    if (shown.length === 0) return;
    const step = isShifted ? -1 : 1;
    go(shown[at < 0 && isShifted ? shown.length - 1 : (at + step + shown.length) % shown.length]!);
  });

  return (
    <section aria-label="Findings" data-leaf="findings" className="shrink-0 border-t border-rule bg-leaf">
      <div className="flex w-full items-center gap-2 px-3 py-1.5">
        <button className="font-medium" aria-expanded={isOpen} onClick={() => setShown(!isOpen)}>
          Findings
        </button>
        {(Object.keys(kinds) as Kind[]).map((k) => {
          const n = findings.filter((f) => f.kind === k).length;
          return n > 0 || only === k ? (
            <button
              key={k}
              aria-pressed={only === k}
              title={only === k ? 'Show all' : `Show only what is ${kinds[k].name}`}
              className={`chip ${kinds[k].chip} ${only === k ? 'ring-1 ring-ink-2' : only ? 'opacity-55' : ''}`}
              onClick={() => {
                setOnly(only === k ? null : k);
                setAt(-1);
                setShown(true);
              }}
            >
              {n} {kinds[k].name}
            </button>
          ) : null;
        })}
        {left.length > 0 && (
          <button
            className="chip bg-tint text-tint-ink"
            aria-expanded={isOpen && showsLeft}
            onClick={() => {
              setShowsLeft(!(isOpen && showsLeft));
              setShown(true);
            }}
          >
            {left.length} left be
          </button>
        )}
        <span className="ml-auto min-w-0 truncate text-[12.5px] text-ink-2">
          {findings.length === 0 ? 'nothing found' : 'all pages are there all the same'}
        </span>
        <button
          className="shrink-0 rounded p-0.5 text-ink-2 hover:bg-paper"
          aria-label={isOpen ? 'Fold the findings' : 'Unfold the findings'}
          onClick={() => setShown(!isOpen)}
        >
          {isOpen ? <ChevronDown className="size-4" aria-hidden /> : <ChevronUp className="size-4" aria-hidden />}
        </button>
      </div>
      {problem && (
        <p role="alert" className="border-t border-rule bg-note px-3 py-1.5">
          {problem}
        </p>
      )}
      {isOpen && showsLeft && left.length > 0 && (
        <ul
          aria-label="Left as they are"
          className="max-h-[min(170px,30vh)] overflow-y-auto border-t border-rule bg-paper"
        >
          {left.map((f) => (
            <li key={f.id} className="flex items-start gap-2.5 border-b border-rule px-3 py-1.5 last:border-0">
              <span className="min-w-0 flex-1">
                {f.message} <span className="text-[12px] text-ink-2">{f.file}</span>
                <span className="block text-[12.5px] text-ink-2">
                  Left by {people.find((p) => p.id === f.person)?.name ?? 'someone who has gone'}, {moment(f.at)}
                </span>
              </span>
              {canWrite && (
                <button className="button shrink-0 py-0.5" onClick={() => onTakeUp(f.id)}>
                  Take it up again
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
      {isOpen && shown.length > 0 && (
        <ul className="max-h-[min(170px,30vh)] overflow-y-auto border-t border-rule">
          {groupsOf(shown).map((g, i) =>
            g.findings.length > 1 ? (
              <Group key={`${g.code} ${i}`} group={g} current={current} {...props} onGo={go} />
            ) : (
              <Row key={`${g.code} ${i}`} finding={g.findings[0]!} current={current} {...props} onGo={go} />
            ),
          )}
        </ul>
      )}
    </section>
  );
});

type ListProps = Props & { current: Finding | undefined };

/** Findings of one cause: said once, and each when it is unfolded. */
function Group({ group, ...props }: ListProps & { group: FindingGroup }) {
  const { findings } = group;
  const isCurrent = props.current !== undefined && findings.includes(props.current);
  const [isUnfolded, setIsUnfolded] = useState(false);
  const isOpen = isUnfolded || isCurrent;
  const kind = kinds[group.kind as Kind];
  const all = props.canWrite ? mendOfAll(group, (f) => mendName(f.repair!)) : null;
  return (
    <li className="border-b border-rule last:border-0">
      <Line kind={kind} action={all && { name: all, run: () => props.onMendAll(findings) }}>
        <button className="min-w-0 flex-1 text-left" aria-expanded={isOpen} onClick={() => setIsUnfolded(!isOpen)}>
          <span className="sr-only">{kind.name}: </span>
          <span className="font-medium">{causeOf(group)}</span>{' '}
          <span className="text-[12px] whitespace-nowrap text-ink-2">
            {findings.length} places
            {isOpen ? (
              <ChevronDown className="inline size-3.5" aria-hidden />
            ) : (
              <ChevronRight className="inline size-3.5" aria-hidden />
            )}
          </span>
        </button>
      </Line>
      {isOpen && (
        <ul className="pl-5">
          {findings.map((f, i) => (
            <Row key={i} finding={f} {...props} />
          ))}
        </ul>
      )}
    </li>
  );
}

function Row({ finding: f, current, canWrite, onGo, onMend, onLeave }: ListProps & { finding: Finding }) {
  const kind = kinds[f.kind as Kind];
  const action = f.repair && canWrite ? { name: mendName(f.repair), run: () => onMend(f) } : null;
  return (
    <li className={`border-b border-rule last:border-0 ${f === current ? 'bg-chosen' : ''}`}>
      <Line kind={kind} action={action} leave={canWrite && f.kind !== 'fix' ? () => onLeave(f) : null}>
        <button className="min-w-0 flex-1 text-left" aria-current={f === current} onClick={() => onGo(f)}>
          <span className="sr-only">{kind.name}: </span>
          <span className="font-medium">{f.message}</span>{' '}
          <span className="text-[12px] whitespace-nowrap text-ink-2">{f.file ? `${f.file}, line ${f.line}` : ''}</span>
          <span className="block text-[12.5px] text-ink-2">{f.advice}</span>
        </button>
      </Line>
    </li>
  );
}

function Line(props: {
  kind: (typeof kinds)[Kind];
  action: { name: string; run: () => void } | null | '';
  leave?: (() => void) | null;
  children: ReactNode;
}) {
  const { kind, action, leave } = props;
  return (
    <div className="flex items-start gap-2.5 px-3 py-2">
      <span className={`mt-0.5 text-[10px] ${kind.text}`} aria-hidden>
        {kind.sign}
      </span>
      {props.children}
      {action && (
        <button className="button shrink-0 py-0.5" onClick={action.run}>
          {action.name}
        </button>
      )}
      {leave && (
        <button
          className="shrink-0 rounded px-1.5 py-0.5 text-ink-2 hover:bg-paper hover:text-ink"
          title="It is not said again, to anyone, until it is taken up again"
          onClick={leave}
        >
          Leave this be
        </button>
      )}
    </div>
  );
}
