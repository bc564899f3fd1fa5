import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import type { SourceRow } from '../api/client';

type Column = 'key' | 'authors' | 'title' | 'year' | 'type' | 'uses';

const columns: { name: Column; says: string; width: string }[] = [
  { name: 'key', says: 'Key', width: '116px' },
  { name: 'authors', says: 'Author', width: '112px' },
  { name: 'title', says: 'Title', width: 'minmax(120px,1fr)' },
  { name: 'year', says: 'Year', width: '46px' },
  { name: 'type', says: 'Kind', width: '88px' },
  { name: 'uses', says: 'Cited', width: '46px' },
];
const grid = { gridTemplateColumns: `${columns.map((c) => c.width).join(' ')} 112px` };
const rowHeight = 33;

/** The sources as rows. Only those in view are drawn, so that thousands are as quick as ten. */
export function SourceTable({
  rows,
  chosen,
  onChoose,
  empty,
}: {
  rows: SourceRow[];
  chosen: string;
  onChoose: (key: string) => void;
  empty: string;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const [sort, setSort] = useState<{ by: Column; down: boolean } | null>(null);
  const sorted = useMemo(() => {
    if (!sort) return rows;
    const factor = sort.down ? -1 : 1;
    return [...rows].sort((a, b) =>
      sort.by === 'uses'
        ? factor * (a.uses - b.uses)
        : factor * a[sort.by].localeCompare(b[sort.by], 'en', { numeric: true }),
    );
  }, [rows, sort]);
  const list = useVirtualizer({
    count: sorted.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  });
  const at = sorted.findIndex((r) => r.key === chosen);
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at, { align: 'auto' });
    // The chosen one comes into view when it changes, not whenever the list does.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);
  const move = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12 }[event.key];
    if (!by || sorted.length === 0) return;
    event.preventDefault();
    const next = sorted[Math.min(Math.max(at + by, 0), sorted.length - 1)];
    if (next) onChoose(next.key);
  };

  return (
    <div
      role="table"
      aria-label="Sources"
      aria-rowcount={sorted.length + 1}
      className="flex min-h-0 flex-1 flex-col overflow-x-auto"
    >
      <div
        role="row"
        aria-rowindex={1}
        className="grid min-w-[720px] shrink-0 gap-2 border-b border-rule px-3 py-1.5"
        style={grid}
      >
        {columns.map((c) => (
          <span
            key={c.name}
            role="columnheader"
            aria-sort={sort?.by === c.name ? (sort.down ? 'descending' : 'ascending') : 'none'}
          >
            <button
              className="text-[11px] font-semibold tracking-wide text-ink-2 uppercase hover:text-ink"
              onClick={() =>
                setSort(
                  sort?.by !== c.name ? { by: c.name, down: false } : sort.down ? null : { by: c.name, down: true },
                )
              }
            >
              {c.says}
              {sort?.by === c.name && <span aria-hidden> {sort.down ? '↓' : '↑'}</span>}
            </button>
          </span>
        ))}
      </div>
      <div
        ref={scroller}
        className="min-h-0 min-w-[720px] flex-1 overflow-y-auto"
        onKeyDown={move}
        tabIndex={0}
        role="rowgroup"
        aria-label="Rows"
        data-entry
      >
        {sorted.length === 0 && (
          <div role="row" aria-rowindex={2}>
            <p role="cell" className="p-5 text-ink-2">
              {empty}
            </p>
          </div>
        )}
        <div className="relative" style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map((v) => {
            const row = sorted[v.index];
            if (!row) return null;
            return (
              <div
                key={`${row.key} ${v.index}`}
                role="row"
                aria-current={row.key === chosen || undefined}
                aria-rowindex={v.index + 2}
                onClick={() => onChoose(row.key)}
                className={`absolute inset-x-0 top-0 grid cursor-pointer items-center gap-2 border-b border-rule/60 px-3 ${row.key === chosen ? 'bg-chosen' : 'hover:bg-paper'}`}
                style={{ ...grid, height: rowHeight, transform: `translateY(${v.start}px)` }}
              >
                <Cells row={row} />
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

function Cells({ row }: { row: SourceRow }) {
  if (!row.isThere) {
    return (
      <>
        <span role="cell" className="truncate font-mono text-[12px] text-rubric-ink" title={row.key}>
          {row.key}
        </span>
        <span role="cell" className="col-span-4 truncate text-[12.5px] text-ink-2">
          cited in {row.file}, line {row.line}, but in no .bib file
        </span>
        <span role="cell">{row.uses} ×</span>
        <span role="cell" className="chip justify-self-start bg-rubric-tint text-rubric-ink">
          missing
        </span>
      </>
    );
  }
  return (
    <>
      <span role="cell" className="truncate font-mono text-[12px]" title={row.key}>
        {row.key}
      </span>
      <span role="cell" className="truncate" title={row.authors}>
        {row.authors}
      </span>
      <span role="cell" className="truncate font-serif text-[14.5px]" title={row.title}>
        {row.title}
      </span>
      <span role="cell">{row.year}</span>
      <span role="cell" className="truncate" title={row.type}>
        {row.type}
      </span>
      <span role="cell" className={row.uses ? '' : 'text-ink-3'}>
        {row.uses ? `${row.uses} ×` : '–'}
      </span>
      <Mark row={row} />
    </>
  );
}

function Mark({ row }: { row: SourceRow }) {
  const chip = 'chip block max-w-full justify-self-start overflow-hidden text-ellipsis';
  if (row.doubled) {
    return (
      <span role="cell" className={`${chip} bg-plum-tint text-plum`}>
        key is there twice
      </span>
    );
  }
  if (row.missing.length > 0) {
    return (
      <span role="cell" className={`${chip} bg-ochre-tint text-ochre-ink`} title={`lacks ${row.missing.join(', ')}`}>
        no {row.missing[0]}
        {row.missing.length > 1 && ` +${row.missing.length - 1}`}
      </span>
    );
  }
  if (row.twins.length > 0) {
    return (
      <span role="cell" className={`${chip} bg-plum-tint text-plum`} title={`seems to be ${row.twins.join(', ')}`}>
        twin: {row.twins[0]}
      </span>
    );
  }
  if (row.remarks > 0) {
    return (
      <span role="cell" className={`${chip} bg-ochre-tint text-ochre-ink`}>
        look at it
      </span>
    );
  }
  return <span role="cell" />;
}
