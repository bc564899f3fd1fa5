import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type KeyboardEvent, type ReactNode } from 'react';

const RowHeight = 33;

/** A table of rows of which one is chosen. Only those in view are drawn, so that thousands are as quick as ten. */
export function RowTable<T extends { key: string }>(props: {
  name: string;
  rows: readonly T[];
  chosen: string;
  onChoose: (key: string) => void;
  /** Widths of the columns. */
  grid: string;
  /** As narrow as it may become before it scrolls sideways, in pixels. */
  least: number;
  heads: ReactNode;
  cells: (row: T) => ReactNode;
  empty: string;
}) {
  const { name, rows, chosen, onChoose, grid, least, heads, cells, empty } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => RowHeight,
    overscan: 12,
  });
  const at = rows.findIndex((r) => r.key === chosen);
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at, { align: 'auto' });
    // The chosen one comes into view when it changes, not whenever the list does.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);
  const move = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12 }[event.key];
    if (!by || rows.length === 0) return;
    event.preventDefault();
    const next = rows[Math.min(Math.max(at + by, 0), rows.length - 1)];
    if (next) onChoose(next.key);
  };
  const columns = { gridTemplateColumns: grid };
  return (
    <div
      role="table"
      aria-label={name}
      aria-rowcount={rows.length + 1}
      className="relative flex min-h-0 flex-1 flex-col overflow-x-auto"
    >
      <div
        role="row"
        aria-rowindex={1}
        className="grid shrink-0 gap-2 border-b border-rule px-3 py-1.5"
        style={{ ...columns, minWidth: least }}
      >
        {heads}
      </div>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-y-auto"
        style={{ minWidth: least }}
        onKeyDown={move}
        tabIndex={0}
        role="rowgroup"
        aria-label="Rows"
        data-entry
      >
        {rows.length === 0 && (
          <div role="row" aria-rowindex={2}>
            <p role="cell" className="p-5 text-ink-2">
              {empty}
            </p>
          </div>
        )}
        <div className="relative" style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map((v) => {
            const row = rows[v.index];
            if (!row) return null;
            return (
              <div
                key={`${row.key} ${v.index}`}
                role="row"
                aria-current={row.key === chosen || undefined}
                aria-rowindex={v.index + 2}
                onClick={() => onChoose(row.key)}
                className={`absolute inset-x-0 top-0 grid cursor-pointer items-center gap-2 border-b border-rule/60 px-3 ${row.key === chosen ? 'bg-chosen' : 'hover:bg-paper'}`}
                style={{ ...columns, height: RowHeight, transform: `translateY(${v.start}px)` }}
              >
                {cells(row)}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
