import type { StateCommand } from '@codemirror/state';
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
  const item = /^(itemize|enumerate)$/.test(name.name) ? '\\item ' : '';
  const inner = `\n${indent}  ${item}`;
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
