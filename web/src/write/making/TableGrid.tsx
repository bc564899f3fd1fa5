import { useMutation } from '@tanstack/react-query';
import { Combine, Minus, Plus, Split } from 'lucide-react';
import { useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import { post, type TypedTable } from '../../api/client';
import { Panel } from '../../ui/Panel';
import {
  addColumn,
  addRow,
  align,
  alignmentAt,
  cellAt,
  drawLine,
  joinBelow,
  joinRight,
  lineAt,
  moveRow,
  part,
  placed,
  pour,
  removeColumn,
  removeRow,
  write,
  type Alignment,
  type GridPlace,
  type LineKind,
} from './grid';

interface Props {
  table: TypedTable;
  /** The source that it was read from; null: it is a new one. */
  source: string | null;
  /** Pasted cells may go in as they were pasted. */
  onPlain: (() => void) | null;
  /** Puts the markup in; gives why it can't be, when it can't. */
  onDone: (table: TypedTable, markup: string) => string | null;
  onClose: () => void;
}

const sides: { to: Alignment; name: string }[] = [
  { to: 'l', name: 'Left' },
  { to: 'c', name: 'Middle' },
  { to: 'r', name: 'Right' },
];
const kinds: { kind: LineKind; name: string }[] = [
  { kind: 'none', name: 'none' },
  { kind: 'thin', name: 'thin' },
  { kind: 'thick', name: 'thick' },
];
const edges: Record<LineKind, string> = { none: '', thin: 'border-t border-t-ink', thick: 'border-t-2 border-t-ink' };
const select = 'rounded border border-rule bg-leaf px-1.5 py-0.5';

/** A table as a grid: its cells, rows, columns and lines. What it doesn't know stays as it is. */
export function TableGrid({ table: begun, source, onPlain, onDone, onClose }: Props) {
  const [table, setTable] = useState(begun);
  const [at, setAt] = useState<GridPlace>({ row: 0, column: 0 });
  const [problem, setProblem] = useState('');
  const body = useRef<HTMLTableElement>(null);
  const isFixed = table.obstacle !== null;
  const made = useMutation({
    mutationFn: () => post<{ text: string }>('/api/making/table/source', { table, text: source }),
    onSuccess: ({ text }) => setProblem(onDone(table, text) ?? ''),
    onError: (e: Error) => setProblem(e.message),
  });
  const paste = useMutation({
    mutationFn: (text: string) => post<TypedTable>('/api/making/cells', { text }),
    onSuccess: (cells) =>
      setTable((t) =>
        pour(
          t,
          at,
          cells.rows.map((r) => r.cells.map((c) => c.text)),
        ),
      ),
    onError: (e: Error) => setProblem(e.message),
  });
  const here: GridPlace = {
    row: Math.min(at.row, table.rows.length - 1),
    column: Math.min(at.column, table.columns.length - 1),
  };
  const cell = table.rows.length > 0 ? cellAt(table, here)?.cell : undefined;
  const go = ({ row, column }: GridPlace) =>
    body.current?.querySelector<HTMLInputElement>(`[data-cell="${row} ${column}"]`)?.focus();
  const press = (event: KeyboardEvent<HTMLInputElement>, place: GridPlace) => {
    const { selectionStart, selectionEnd, value } = event.currentTarget;
    const isWhole = selectionStart === 0 && selectionEnd === value.length;
    const step =
      event.key === 'ArrowUp'
        ? [-1, 0]
        : event.key === 'ArrowDown' || event.key === 'Enter'
          ? [1, 0]
          : event.key === 'ArrowLeft' && (isWhole || selectionEnd === 0)
            ? [0, -1]
            : event.key === 'ArrowRight' && (isWhole || selectionStart === value.length)
              ? [0, 1]
              : null;
    if (!step || event.altKey || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const row = place.row + step[0]!;
    if (row < 0 || row >= table.rows.length) return;
    const across = step[1]! > 0 ? (cellAt(table, place)?.cell.columns ?? 1) : step[1]!;
    const column = place.column + across;
    if (column < 0 || column >= table.columns.length) return;
    go({ row, column: cellAt(table, { row, column })?.column ?? column });
  };
  const pasteIn = (event: ClipboardEvent) => {
    const text = event.clipboardData.getData('text/plain');
    if (!/[\t\n]/.test(text.trim())) return;
    event.preventDefault();
    paste.mutate(text);
  };
  const say = (name: string, does: () => TypedTable, icon?: React.ReactNode, isOff = false) => (
    <button
      type="button"
      className="button px-2 py-0.5 text-[12.5px]"
      disabled={isFixed || isOff}
      // The cell keeps the focus.
      onMouseDown={(e) => e.preventDefault()}
      onClick={() => setTable(does())}
    >
      {icon}
      {name}
    </button>
  );
  const icon = 'size-3.5';
  const last = table.rows.length;

  return (
    <Panel
      title={source === null ? 'A new table' : 'The table as a grid'}
      className="flex max-h-[88vh] w-[60rem] flex-col"
      busy={made.isPending}
      onClose={onClose}
    >
      {isFixed && (
        <p role="note" className="mt-2 rounded bg-note px-3 py-1.5">
          This table can only be looked at here. {table.obstacle} Change it in the text.
        </p>
      )}
      <div role="toolbar" aria-label="With the table" className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1.5">
        <span className="flex items-center gap-1">
          <span className="mr-1 text-ink-2">Row</span>
          {say('above', () => addRow(table, here.row, false), <Plus className={icon} aria-hidden />)}
          {say('below', () => addRow(table, here.row, true), <Plus className={icon} aria-hidden />)}
          {say('up', () => moveRow(table, here.row, -1), null, here.row === 0)}
          {say('down', () => moveRow(table, here.row, 1), null, here.row >= last - 1)}
          {say('away', () => removeRow(table, here.row), <Minus className={icon} aria-hidden />, last < 2)}
        </span>
        <span className="flex items-center gap-1">
          <span className="mr-1 text-ink-2">Column</span>
          {say('before', () => addColumn(table, here.column), <Plus className={icon} aria-hidden />)}
          {say(
            'behind',
            () => addColumn(table, here.column + (cell?.columns ?? 1)),
            <Plus className={icon} aria-hidden />,
          )}
          {say(
            'away',
            () => removeColumn(table, here.column),
            <Minus className={icon} aria-hidden />,
            table.columns.length < 2,
          )}
        </span>
        <span className="flex items-center gap-1">
          <span className="mr-1 text-ink-2">Cell</span>
          {say('join to the right', () => joinRight(table, here), <Combine className={icon} aria-hidden />)}
          {say('join below', () => joinBelow(table, here), <Combine className={icon} aria-hidden />)}
          {say(
            'part',
            () => part(table, here),
            <Split className={icon} aria-hidden />,
            !cell || (cell.columns < 2 && cell.rows < 2),
          )}
        </span>
        <label className="flex items-center gap-1.5">
          <span className="text-ink-2">{cell && cell.columns > 1 ? 'Cell stands' : 'Column stands'}</span>
          <select
            className={select}
            disabled={isFixed}
            value={alignmentAt(table, here)}
            onChange={(e) => setTable(align(table, here, e.target.value as Alignment))}
          >
            {!sides.some((s) => s.to === alignmentAt(table, here)) && <option>{alignmentAt(table, here)}</option>}
            {sides.map((s) => (
              <option key={s.to} value={s.to}>
                {s.name}
              </option>
            ))}
          </select>
        </label>
        {[
          { name: 'Line above', row: here.row },
          { name: 'Line below', row: here.row + 1 },
        ].map(({ name, row }) => (
          <label key={name} className="flex items-center gap-1.5">
            <span className="text-ink-2">{name}</span>
            <select
              className={select}
              disabled={isFixed}
              value={lineAt(table, row)}
              onChange={(e) => setTable(drawLine(table, row, e.target.value as LineKind))}
            >
              {kinds.map((k) => (
                <option key={k.kind} value={k.kind}>
                  {k.name}
                </option>
              ))}
            </select>
          </label>
        ))}
      </div>
      <div className="mt-3 min-h-0 flex-1 overflow-auto rounded border border-rule bg-page p-3">
        {isFixed && <pre className="mb-3 font-mono text-[12.5px] whitespace-pre-wrap">{source}</pre>}
        <table ref={body} className="border-collapse" hidden={isFixed}>
          <tbody onPaste={pasteIn}>
            {table.rows.map((row, r) => (
              <tr key={r}>
                {placed(row).map(({ cell: c, column }) => (
                  <td
                    key={column}
                    colSpan={c.columns}
                    className={`border border-rule p-0 ${edges[lineAt(table, r)]} ${r === last - 1 && lineAt(table, last) === 'thick' ? 'border-b-2 border-b-ink' : r === last - 1 && lineAt(table, last) === 'thin' ? 'border-b border-b-ink' : ''}`}
                  >
                    <input
                      data-cell={`${r} ${column}`}
                      aria-label={`Row ${r + 1}, column ${column + 1}${c.rows > 1 ? `, over ${c.rows} rows` : ''}`}
                      className={`w-full px-2 py-1 font-mono text-[12.5px] focus:bg-chosen ${c.rows > 1 ? 'bg-slate-tint' : 'bg-transparent'}`}
                      style={{
                        textAlign: { l: 'left', c: 'center', r: 'right' }[alignmentAt(table, { row: r, column })] as
                          'left' | undefined,
                        minWidth: `${Math.min(28, Math.max(7, c.text.length + 2))}ch`,
                      }}
                      spellCheck={false}
                      readOnly={isFixed}
                      autoFocus={r === 0 && column === 0}
                      value={c.text}
                      onFocus={() => setAt({ row: r, column })}
                      onKeyDown={(e) => press(e, { row: r, column })}
                      onChange={(e) => setTable(write(table, { row: r, column }, e.target.value))}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {problem && (
        <p role="alert" className="mt-2 text-rubric">
          {problem}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <button className="button" onClick={onClose}>
          {isFixed ? 'Close' : 'Leave it'}
        </button>
        {onPlain && (
          <button className="button" onClick={onPlain}>
            Paste it as text
          </button>
        )}
        {!isFixed && (
          <button className="button button-main" disabled={made.isPending} onClick={() => made.mutate()}>
            {source === null ? 'Put it in' : 'Write it into the text'}
          </button>
        )}
      </div>
    </Panel>
  );
}
