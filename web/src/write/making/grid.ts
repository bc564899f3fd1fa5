import type { TypedCell, TypedColumn, TypedRow, TypedTable } from '../../api/client';

// What can be done to a table as a grid. Each gives a new table; what it doesn't concern stays the same object.

/** A place in the grid, from 0. */
export interface GridPlace {
  row: number;
  column: number;
}

export type Alignment = 'l' | 'c' | 'r';

/** Lines across the table: thin as below heads, thick as at its ends. */
export type LineKind = 'none' | 'thin' | 'thick';

const emptyCell: TypedCell = { text: '', columns: 1, align: null, rows: 1 };

/** The cells of a row, each with the column that it begins in. */
export function placed(row: TypedRow): { cell: TypedCell; index: number; column: number }[] {
  let column = 0;
  return row.cells.map((cell, index) => {
    const at = { cell, index, column };
    column += cell.columns;
    return at;
  });
}

const widthOf = (row: TypedRow) => row.cells.reduce((sum, c) => sum + c.columns, 0);

const noRow: TypedRow = { above: [], cells: [], end: '', origin: null };

/** The cell that takes a column of a row; null where the row has ended. */
export const cellAt = (table: TypedTable, { row, column }: GridPlace) =>
  placed(table.rows[row] ?? noRow).find((p) => column >= p.column && column < p.column + p.cell.columns) ?? null;

const withRow = (table: TypedTable, at: number, row: TypedRow): TypedTable => ({
  ...table,
  rows: table.rows.map((r, i) => (i === at ? row : r)),
});

const withCell = (table: TypedTable, place: GridPlace, cell: TypedCell): TypedTable => {
  const row = table.rows[place.row]!;
  const found = cellAt(table, place);
  const missing = Array.from({ length: place.column - widthOf(row) }, () => emptyCell);
  const cells = found ? row.cells.map((c, i) => (i === found.index ? cell : c)) : [...row.cells, ...missing, cell];
  return withRow(table, place.row, { ...row, cells });
};

/** Writes a cell; a row that ends before it is filled up. */
export const write = (table: TypedTable, place: GridPlace, text: string): TypedTable =>
  withCell(table, place, { ...(cellAt(table, place)?.cell ?? emptyCell), text });

/** A row of empty cells, above or below another. What stood above the first of a group of rows stands above the new one then. */
export function addRow(table: TypedTable, at: number, isBelow: boolean): TypedTable {
  const made: TypedRow = { above: [], cells: table.columns.map(() => emptyCell), end: '\\\\', origin: null };
  const rows = [...table.rows];
  const next = rows[at];
  if (isBelow || !next) rows.splice(at + 1, 0, made);
  else rows.splice(at, 1, { ...made, above: next.above }, { ...next, above: [] });
  return { ...table, rows };
}

const withoutLine = (between: readonly string[]) => between.filter((l) => !lines[l]);

/** Takes a row away; lines and comments above it stay, but one line is enough where two would meet. */
export function removeRow(table: TypedTable, at: number): TypedTable {
  const { above } = table.rows[at]!;
  const rows = table.rows.filter((_, i) => i !== at);
  const meet = (between: string[]) =>
    at === 0 && lineIn(above) !== 'none'
      ? [...above, ...withoutLine(between)]
      : lineIn(between) === 'none'
        ? [...above, ...between]
        : [...withoutLine(above), ...between];
  const next = rows[at];
  if (!next) return { ...table, rows, below: meet(table.below) };
  rows[at] = { ...next, above: meet(next.above) };
  return { ...table, rows };
}

/** Lets a row and the one above or below it change places; lines stay where they are. */
export function moveRow(table: TypedTable, at: number, by: 1 | -1): TypedTable {
  const one = table.rows[at];
  const other = table.rows[at + by];
  if (!one || !other) return table;
  const rows = [...table.rows];
  rows[at] = { ...other, above: one.above };
  rows[at + by] = { ...one, above: other.above };
  return { ...table, rows };
}

// What stands at the table's edges stays at them.
function withColumns(table: TypedTable, columns: TypedColumn[]): TypedColumn[] {
  const first = table.columns[0]!;
  const last = table.columns.at(-1)!;
  return columns.map((c, i) => ({
    ...c,
    before: i === 0 ? first.before : c === first ? '' : c.before,
    after: i === columns.length - 1 ? last.after : c === last ? '' : c.after,
  }));
}

const ranges = /^(\\(?:cmidrule|cline)\s*(?:\[[^\]]*\])?(?:\([^)]*\))?\{)(\d+)-(\d+)\}$/;

// Lines under some columns go on standing under them.
function shifted(lines: string[], shift: (first: number, last: number) => [number, number]): string[] {
  return lines.flatMap((line) => {
    const found = ranges.exec(line);
    if (!found) return [line];
    const [first, last] = shift(Number(found[2]), Number(found[3]));
    return first > last ? [] : [`${found[1]}${first}-${last}}`];
  });
}

const withLines = (table: TypedTable, shift: (first: number, last: number) => [number, number]): TypedTable => ({
  ...table,
  rows: table.rows.map((r) => ({ ...r, above: shifted(r.above, shift) })),
  below: shifted(table.below, shift),
});

/** A column of empty cells before the one at a place, or at the end. */
export function addColumn(table: TypedTable, at: number): TypedTable {
  const columns = [...table.columns];
  columns.splice(at, 0, { before: '', kind: 'l', after: '' });
  const rows = table.rows.map((row) => {
    const across = placed(row).find((p) => p.column < at && at < p.column + p.cell.columns);
    if (across) {
      const wider = { ...across.cell, columns: across.cell.columns + 1 };
      return { ...row, cells: row.cells.map((c) => (c === across.cell ? wider : c)) };
    }
    const index = placed(row).findIndex((p) => p.column === at);
    if (index < 0 && widthOf(row) < table.columns.length) return row;
    const cells = [...row.cells];
    cells.splice(index < 0 ? cells.length : index, 0, emptyCell);
    return { ...row, cells };
  });
  const moved = withLines({ ...table, rows }, (first, last) => [
    first > at ? first + 1 : first,
    last > at ? last + 1 : last,
  ]);
  return { ...moved, columns: withColumns(table, columns) };
}

/** Takes a column away; the last one stays. */
export function removeColumn(table: TypedTable, at: number): TypedTable {
  if (table.columns.length < 2) return table;
  const columns = table.columns.filter((_, i) => i !== at);
  const rows = table.rows.map((row, r) => {
    const found = cellAt(table, { row: r, column: at });
    if (!found) return row;
    const narrower = { ...found.cell, columns: found.cell.columns - 1 };
    return {
      ...row,
      cells: row.cells.flatMap((c, i) => (i !== found.index ? [c] : narrower.columns > 0 ? [narrower] : [])),
    };
  });
  const moved = withLines({ ...table, rows }, (first, last) => [
    first - 1 > at ? first - 1 : first,
    last - 1 >= at ? last - 1 : last,
  ]);
  return { ...moved, columns: withColumns(table, columns) };
}

/** Sets a column to the left, in the middle or to the right; a cell over several columns for itself. */
export function align(table: TypedTable, place: GridPlace, to: Alignment): TypedTable {
  const cell = cellAt(table, place)?.cell;
  if (cell && cell.columns > 1) return withCell(table, place, { ...cell, align: to });
  return { ...table, columns: table.columns.map((c, i) => (i === place.column ? { ...c, kind: to } : c)) };
}

/** How the cell at a place stands: `l`, `c`, `r`, or as its column says otherwise. */
export const alignmentAt = (table: TypedTable, place: GridPlace): string =>
  cellAt(table, place)?.cell.align ?? table.columns[place.column]?.kind ?? 'l';

const joined = (one: string, other: string) => [one, other].filter(Boolean).join(' ');

/** Makes one cell of two that stand side by side. */
export function joinRight(table: TypedTable, place: GridPlace): TypedTable {
  const row = table.rows[place.row]!;
  const found = cellAt(table, place);
  const next = found && row.cells[found.index + 1];
  if (!found || !next) return table;
  const both = {
    ...found.cell,
    text: joined(found.cell.text, next.text),
    columns: found.cell.columns + next.columns,
    align: found.cell.align ?? 'c',
  };
  return withRow(table, place.row, {
    ...row,
    cells: [...row.cells.slice(0, found.index), both, ...row.cells.slice(found.index + 2)],
  });
}

/** Lets a cell reach over the one below it as well. */
export function joinBelow(table: TypedTable, place: GridPlace): TypedTable {
  const found = cellAt(table, place);
  const next = found && place.row + found.cell.rows;
  if (!found || next === null || next >= table.rows.length) return table;
  const below = cellAt(table, { row: next, column: found.column });
  if (below?.column !== found.column || below.cell.columns !== found.cell.columns) return table;
  const both = { ...found.cell, text: joined(found.cell.text, below.cell.text), rows: found.cell.rows + 1 };
  return write(withCell(table, place, both), { row: next, column: found.column }, '');
}

/** Parts a joined cell again: its words stay in the first. */
export function part(table: TypedTable, place: GridPlace): TypedTable {
  const row = table.rows[place.row]!;
  const found = cellAt(table, place);
  if (!found) return table;
  const empty = Array.from({ length: found.cell.columns - 1 }, () => emptyCell);
  const one = { ...found.cell, columns: 1, rows: 1, align: null };
  return withRow(table, place.row, {
    ...row,
    cells: row.cells.flatMap((c, i) => (i === found.index ? [one, ...empty] : [c])),
  });
}

const lines: Record<string, LineKind> = {
  '\\toprule': 'thick',
  '\\bottomrule': 'thick',
  '\\midrule': 'thin',
  '\\hline': 'thin',
};

/** The line among what stands between two rows. */
export const lineIn = (between: readonly string[]): LineKind => {
  const found = between.find((l) => lines[l]);
  return found ? lines[found]! : 'none';
};

/** The line above a row; behind the last row, the one that ends the table. */
export const lineAt = (table: TypedTable, at: number) => lineIn(table.rows[at]?.above ?? table.below);

/** Puts a line above a row, or behind the last one; another one there goes. */
export function drawLine(table: TypedTable, at: number, kind: LineKind): TypedTable {
  const isLast = at >= table.rows.length;
  const isPlain = table.rows.some((r) => r.above.includes('\\hline')) || table.below.includes('\\hline');
  const name = isPlain ? '\\hline' : kind === 'thin' ? '\\midrule' : isLast ? '\\bottomrule' : '\\toprule';
  const between = isLast ? table.below : table.rows[at]!.above;
  const kept = withoutLine(between);
  const next = kind === 'none' ? kept : [name, ...kept];
  return isLast ? { ...table, below: next } : withRow(table, at, { ...table.rows[at]!, above: next });
}

/** The packages that a table's own markup needs. */
export function needsOf(table: TypedTable): string[] {
  const all = [...table.rows.flatMap((r) => r.above), ...table.below];
  const needs = [];
  if (all.some((l) => /^\\(toprule|midrule|bottomrule|cmidrule|addlinespace)/.test(l))) needs.push('booktabs');
  if (table.rows.some((r) => r.cells.some((c) => c.rows > 1))) needs.push('multirow');
  return needs;
}

/** Writes copied cells into a grid from a place on; rows and columns come in as they are needed. */
export function pour(table: TypedTable, { row, column }: GridPlace, cells: readonly (readonly string[])[]): TypedTable {
  let next = table;
  cells.forEach((texts, r) => {
    if (row + r >= next.rows.length) next = addRow(next, next.rows.length - 1, true);
    texts.forEach((text, c) => {
      if (column + c >= next.columns.length) next = addColumn(next, next.columns.length);
      next = write(next, { row: row + r, column: column + c }, text);
    });
  });
  return next;
}

/** A table to begin with. */
export function emptyTable(rows: number, columns: number): TypedTable {
  const row = (i: number): TypedRow => ({
    above: i === 0 ? ['\\toprule'] : i === 1 ? ['\\midrule'] : [],
    cells: Array.from({ length: columns }, () => emptyCell),
    end: '\\\\',
    origin: null,
  });
  return {
    environment: 'tabular',
    columns: Array.from({ length: columns }, () => ({ before: '', kind: 'l', after: '' })),
    rows: Array.from({ length: rows }, (_, i) => row(i)),
    below: ['\\bottomrule'],
    obstacle: null,
  };
}
