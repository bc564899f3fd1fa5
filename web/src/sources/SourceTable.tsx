import { useMemo, useState } from 'react';
import type { SourceRow } from '../api/client';
import { RowTable } from '../ui/RowTable';

type Column = 'key' | 'authors' | 'title' | 'year' | 'type' | 'uses';

const columns: { name: Column; says: string; width: string }[] = [
  { name: 'key', says: 'Key', width: '116px' },
  { name: 'authors', says: 'Author', width: '112px' },
  { name: 'title', says: 'Title', width: 'minmax(120px,1fr)' },
  { name: 'year', says: 'Year', width: '46px' },
  { name: 'type', says: 'Kind', width: '88px' },
  { name: 'uses', says: 'Cited', width: '46px' },
];
const grid = `${columns.map((c) => c.width).join(' ')} 112px`;

/** The sources as rows, sorted by a column. */
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
  return (
    <RowTable
      name="Sources"
      rows={sorted}
      chosen={chosen}
      onChoose={onChoose}
      grid={grid}
      least={720}
      empty={empty}
      cells={(row) => <Cells row={row} />}
      heads={columns.map((c) => (
        <span
          key={c.name}
          role="columnheader"
          aria-sort={sort?.by === c.name ? (sort.down ? 'descending' : 'ascending') : 'none'}
        >
          <button
            className="text-[11px] font-semibold tracking-wide text-ink-2 uppercase hover:text-ink"
            onClick={() =>
              setSort(sort?.by !== c.name ? { by: c.name, down: false } : sort.down ? null : { by: c.name, down: true })
            }
          >
            {c.says}
            {sort?.by === c.name && <span aria-hidden> {sort.down ? '↓' : '↑'}</span>}
          </button>
        </span>
      ))}
    />
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
