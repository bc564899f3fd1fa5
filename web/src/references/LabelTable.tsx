import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type KeyboardEvent } from 'react';
import type { LabelEntry } from '../api/client';
import { isUnused, nameOf } from './labels';

const grid = { gridTemplateColumns: '58px minmax(140px,1fr) minmax(110px,0.55fr) 46px 48px 128px' };
const heads = ['No.', 'What it is', 'Label', 'Page', 'Used', ''];
const RowHeight = 33;

/** The labels as rows, in the order of the pages. Only those in view are drawn. */
export function LabelTable(props: {
  labels: LabelEntry[];
  chosen: string;
  onChoose: (key: string) => void;
  empty: string;
}) {
  const { labels, chosen, onChoose, empty } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: labels.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => RowHeight,
    overscan: 12,
  });
  const at = labels.findIndex((l) => l.key === chosen);
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at, { align: 'auto' });
    // The chosen one comes into view when it changes, not whenever the list does.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);
  const move = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12 }[event.key];
    if (!by || labels.length === 0) return;
    event.preventDefault();
    onChoose(labels[Math.min(Math.max(at + by, 0), labels.length - 1)]!.key);
  };
  return (
    <div
      role="table"
      aria-label="Labels"
      aria-rowcount={labels.length + 1}
      className="relative flex min-h-0 flex-1 flex-col overflow-x-auto"
    >
      <div
        role="row"
        aria-rowindex={1}
        className="grid min-w-[620px] shrink-0 gap-2 border-b border-rule px-4 py-1.5"
        style={grid}
      >
        {heads.map((h) => (
          <span key={h} role="columnheader" className="text-[11px] font-semibold tracking-wide text-ink-2 uppercase">
            {h || <span className="sr-only">Remark</span>}
          </span>
        ))}
      </div>
      <div
        ref={scroller}
        className="min-h-0 min-w-[620px] flex-1 overflow-y-auto"
        onKeyDown={move}
        tabIndex={0}
        role="rowgroup"
        aria-label="Rows"
        data-entry
      >
        {labels.length === 0 && (
          <div role="row" aria-rowindex={2}>
            <p role="cell" className="p-5 text-ink-2">
              {empty}
            </p>
          </div>
        )}
        <div className="relative" style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map((v) => {
            const label = labels[v.index]!;
            return (
              <div
                key={label.key}
                role="row"
                aria-rowindex={v.index + 2}
                aria-current={label.key === chosen || undefined}
                onClick={() => onChoose(label.key)}
                className={`absolute inset-x-0 grid cursor-pointer items-center gap-2 border-b border-rule/70 px-4 ${label.key === chosen ? 'bg-chosen' : 'hover:bg-paper/60'}`}
                style={{ ...grid, height: RowHeight, top: v.start }}
              >
                <span
                  role="cell"
                  className={`truncate font-serif text-[15px] ${label.number ? 'text-rubric-ink' : 'text-ink-2'}`}
                >
                  {label.kind === 'missing'
                    ? '??'
                    : label.kind === 'equation' && label.number
                      ? `(${label.number})`
                      : label.number}
                </span>
                <span
                  role="cell"
                  className={`truncate ${label.title ? 'font-serif text-[14.5px]' : label.kind === 'equation' ? 'font-mono text-[12px]' : 'text-ink-2'}`}
                >
                  {nameOf(label)}
                </span>
                <span role="cell" className="truncate font-mono text-[12px] text-plum">
                  {label.key}
                </span>
                <span role="cell">{label.page ?? '–'}</span>
                <span role="cell">{label.uses.length > 0 ? `${label.uses.length} ×` : '–'}</span>
                <span role="cell">
                  <Remark label={label} />
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </div>
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
