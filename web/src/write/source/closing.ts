import { Text, type EditorState, type StateCommand, type TransactionSpec } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { namesIn, partnerOf } from './blocks';

/** Enter behind a `\begin{…}` that has no end yet writes the end too, with a line between. */
export const endWithIt: StateCommand = ({ state, dispatch }) => {
  const { main } = state.selection;
  const line = state.doc.lineAt(main.head);
  const before = line.text.slice(0, main.head - line.from);
  if (!main.empty || state.readOnly || !/\\begin\s*\{[^{}]+\}(?:\[[^\]]*\]|\{[^{}]*\})*\s*$/.test(before)) return false;
  const name = namesIn(before, line.from).at(-1);
  if (!name || name.isEnd || name.name === 'document' || partnerOf(state.doc, name)) return false;
  const indent = /^\s*/.exec(line.text)![0];
  const inner = `\n${indent}  `;
  dispatch(
    state.update({
      changes: { from: main.head, insert: `${inner}\n${indent}\\end{${name.name}}` },
      selection: { anchor: main.head + inner.length },
      userEvent: 'input',
      scrollIntoView: true,
    }),
  );
  return true;
};

/**
 * An end that is written by hand right before the one that is there already takes its place: what is to be done when `}` is typed
 * at a place; null where it is a brace like any other.
 */
export function overEnd(state: EditorState, from: number, to: number): TransactionSpec | null {
  const line = state.doc.lineAt(from);
  const typed = /\\end\{([A-Za-z@]+\*?)$/.exec(line.text.slice(0, from - line.from));
  if (!typed) return null;
  const after = state.sliceDoc(to, to + 400);
  const name = typed[1]!.replace('*', '\\*');
  const there = new RegExp(String.raw`^\}?\s*\n(\s*)\\end\{${name}\}`).exec(after);
  if (!there) return null;
  // Only an end too many goes: with both of them it has no beginning.
  const end = to + there[0].length;
  const both = state.doc.replace(from, to + (after.startsWith('}') ? 1 : 0), Text.of(['}']));
  const shift = both.length - state.doc.length;
  const other = namesIn(both.lineAt(end + shift).text, both.lineAt(end + shift).from).find(
    (n) => n.to === end + shift - 1,
  );
  if (!other || partnerOf(both, other)) return null;
  const start = from - typed[0].length;
  const isAlone = !state.sliceDoc(line.from, start).trim();
  const insert = `${isAlone ? there[1] : ''}${typed[0]}}`;
  const begin = isAlone ? line.from : start;
  return {
    changes: { from: begin, to: end, insert },
    selection: { anchor: begin + insert.length },
    userEvent: 'input.type',
    scrollIntoView: true,
  };
}

/** Writes over an end that is there already. */
export const writingOverEnds = EditorView.inputHandler.of((view, from, to, text) => {
  const change = text === '}' && !view.state.readOnly ? overEnd(view.state, from, to) : null;
  if (change) view.dispatch(change);
  return change !== null;
});
