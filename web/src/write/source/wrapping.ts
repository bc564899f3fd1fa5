import {
  EditorSelection,
  type ChangeSpec,
  type EditorState,
  type StateCommand,
  type TransactionSpec,
} from '@codemirror/state';
import { EditorView, type KeyBinding } from '@codemirror/view';
import { bind } from './keys';

/** Commands whose argument is what was chosen; a second time they are taken away again. */
export const wraps = [
  { name: 'Emphasis', command: 'emph', key: 'Mod-i' },
  { name: 'Bold', command: 'textbf', key: 'Mod-b' },
  { name: 'Code', command: 'texttt', key: 'Mod-Shift-k' },
] as const;

/** Environments around the chosen lines. */
export const surroundings = [
  { name: 'Quotation', environment: 'quote', isList: false },
  { name: 'List', environment: 'itemize', isList: true },
  { name: 'Numbered list', environment: 'enumerate', isList: true },
] as const;

/** Puts a command around what is chosen, or takes it away; where nothing is chosen, around the word at the cursor, or around the cursor. */
export function wrapIn(state: EditorState, command: string): TransactionSpec {
  const open = `\\${command}{`;
  return {
    ...state.changeByRange((range) => {
      const word = range.empty ? state.wordAt(range.head) : null;
      const { from, to } = word ?? range;
      const isIn = state.sliceDoc(from - open.length, from) === open && state.sliceDoc(to, to + 1) === '}';
      if (isIn) {
        const changes: ChangeSpec[] = [
          { from: from - open.length, to: from },
          { from: to, to: to + 1 },
        ];
        return { changes, range: EditorSelection.range(range.anchor - open.length, range.head - open.length) };
      }
      const changes: ChangeSpec[] = [
        { from, insert: open },
        { from: to, insert: '}' },
      ];
      return { changes, range: EditorSelection.range(range.anchor + open.length, range.head + open.length) };
    }),
    userEvent: 'input.wrap',
    scrollIntoView: true,
  };
}

/** Puts an environment around the lines that are chosen; of a list each paragraph or line of them becomes an item. */
export function surround(state: EditorState, environment: string, isList: boolean): TransactionSpec {
  const { main } = state.selection;
  const first = state.doc.lineAt(main.from);
  // A selection up to the beginning of a line doesn't mean that line.
  const last = state.doc.lineAt(main.empty || main.to > state.doc.lineAt(main.to).from ? main.to : main.to - 1);
  const indent = /^\s*/.exec(first.text)![0];
  const lines = state.sliceDoc(first.from, last.to).split('\n');
  const body = isList
    ? lines.filter((l) => l.trim()).map((l) => `${indent}  \\item ${l.trim().replace(/^(?:[-*•]|\d+[.)])\s+/, '')}`)
    : lines;
  if (isList && body.length === 0) body.push(`${indent}  \\item `);
  const insert = [`${indent}\\begin{${environment}}`, ...body, `${indent}\\end{${environment}}`].join('\n');
  const end = first.from + insert.length - `\n${indent}\\end{${environment}}`.length;
  return {
    changes: { from: first.from, to: last.to, insert },
    selection: { anchor: end },
    userEvent: 'input.wrap',
    scrollIntoView: true,
  };
}

const run =
  (spec: (state: EditorState) => TransactionSpec): StateCommand =>
  ({ state, dispatch }) => {
    if (state.readOnly) return false;
    dispatch(state.update(spec(state)));
    return true;
  };

/** The keys of what is put around words. */
export const wrapKeys: KeyBinding[] = wraps.map(({ command, key }) =>
  bind(
    key,
    run((state) => wrapIn(state, command)),
  ),
);

/** After a backslash a bracket brings the one that closes it with its own backslash. */
export const pairedCommands = EditorView.inputHandler.of((view, from, to, text) => {
  const close = { '(': '\\)', '[': '\\]', '{': '\\}' }[text];
  const { state } = view;
  if (!close || from !== to || state.readOnly || state.sliceDoc(from - 1, from) !== '\\') return false;
  // Two backslashes end a line: what follows them is a bracket like any other.
  if (state.sliceDoc(from - 2, from - 1) === '\\') return false;
  view.dispatch({
    changes: { from, insert: text + close },
    selection: { anchor: from + 1 },
    userEvent: 'input.type',
    scrollIntoView: true,
  });
  return true;
});
