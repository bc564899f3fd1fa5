import type { LabelEntry } from '../api/client';
import { RowTable } from '../ui/RowTable';
import { isUnused, nameOf } from './labels';

const heads = ['No.', 'What it is', 'Label', 'Page', 'Used', ''];

/** The labels as rows, in the order of the pages. */
export function LabelTable(props: {
  labels: LabelEntry[];
  chosen: string;
  onChoose: (key: string) => void;
  empty: string;
}) {
  const { labels, chosen, onChoose, empty } = props;
  return (
    <RowTable
      name="Labels"
      rows={labels}
      chosen={chosen}
      onChoose={onChoose}
      grid="58px minmax(140px,1fr) minmax(110px,0.55fr) 46px 48px 128px"
      least={620}
      empty={empty}
      cells={(label) => <Cells label={label} />}
      heads={heads.map((h) => (
        <span key={h} role="columnheader" className="text-[11px] font-semibold tracking-wide text-ink-2 uppercase">
          {h || <span className="sr-only">Remark</span>}
        </span>
      ))}
    />
  );
}

function Cells({ label }: { label: LabelEntry }) {
  const { kind, number, title, key, page, uses } = label;
  return (
    <>
      <span role="cell" className={`truncate font-serif text-[15px] ${number ? 'text-rubric-ink' : 'text-ink-2'}`}>
        {kind === 'missing' ? '??' : kind === 'equation' && number ? `(${number})` : number}
      </span>
      <span
        role="cell"
        className={`truncate ${title ? 'font-serif text-[14.5px]' : kind === 'equation' ? 'font-mono text-[12px]' : 'text-ink-2'}`}
      >
        {nameOf(label)}
      </span>
      <span role="cell" className="truncate font-mono text-[12px] text-plum">
        {key}
      </span>
      <span role="cell">{page ?? '–'}</span>
      <span role="cell">{uses.length > 0 ? `${uses.length} ×` : '–'}</span>
      <span role="cell">
        <Remark label={label} />
      </span>
    </>
  );
}

function Remark({ label }: { label: LabelEntry }) {
  if (label.kind === 'missing')
    return (
      <span className="chip bg-rubric-tint text-rubric-ink">● {label.near ? `near: ${label.near}` : 'nowhere'}</span>
    );
  if (label.remark === 'doubled-label')
    return <span className="chip bg-ochre-tint text-ochre-ink">▲ defined twice</span>;
  if (label.remark === 'label-before-caption')
    return <span className="chip bg-ochre-tint text-ochre-ink">▲ before its caption</span>;
  return isUnused(label) ? <span className="chip bg-ochre-tint text-ochre-ink">▲ never used</span> : null;
}
