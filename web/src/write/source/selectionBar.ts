import { toggleComment } from '@codemirror/commands';
import { StateField, type EditorState } from '@codemirror/state';
import { showTooltip, type EditorView, type Tooltip } from '@codemirror/view';
import { written } from '../../ui/keyNames';
import { suggestHere } from './suggesting';
import { surround, surroundings, wrapIn, wraps } from './wrapping';

/** The name of the event by which a text asks for a note on what is chosen in it. */
export const NoteWanted = 'note-wanted';

export const askForNote = (view: EditorView) => {
  view.dom.dispatchEvent(new CustomEvent(NoteWanted, { bubbles: true }));
  return true;
};

/** What can be done with chosen words, for hands on the mouse; commands are there by key too. */
function makeBar(view: EditorView): HTMLElement {
  const bar = document.createElement('div');
  bar.className = 'cm-selection-bar';
  bar.setAttribute('role', 'toolbar');
  bar.setAttribute('aria-label', 'With the chosen words');
  const add = (name: string, title: string, act: () => void, focusesText = true) => {
    const button = document.createElement('button');
    button.type = 'button';
    button.textContent = name;
    button.title = title;
    // The words stay chosen while the pointer is down.
    button.onmousedown = (event) => event.preventDefault();
    button.onclick = () => {
      act();
      if (focusesText) view.focus();
    };
    bar.append(button);
  };
  add('Note', `What you have to say of these words, in the margin  ${written('Mod-Alt-n')}`, () => askForNote(view));
  if (view.state.readOnly) return bar;
  add(
    'Suggest',
    `Other words for these, held beside the text  ${written('Mod-Alt-s')}`,
    () => suggestHere(view),
    false,
  );
  for (const { name, command, key } of wraps) {
    add(name, `\\${command}{…}  ${written(key)}`, () => view.dispatch(wrapIn(view.state, command)));
  }
  for (const { name, environment, isList } of surroundings) {
    add(name, `\\begin{${environment}}`, () => view.dispatch(surround(view.state, environment, isList)));
  }
  add('Comment', `%  ${written('Mod-/')}`, () => void toggleComment(view));
  return bar;
}

const tooltip = (state: EditorState): Tooltip | null => {
  const { main } = state.selection;
  if (main.empty || state.selection.ranges.length > 1) return null;
  return { pos: main.from, above: true, create: (view) => ({ dom: makeBar(view), overlap: true }) };
};

/** A small bar over words that were chosen by hand. */
export const selectionBar = StateField.define<Tooltip | null>({
  create: () => null,
  update(shown, transaction) {
    if (transaction.isUserEvent('select')) return tooltip(transaction.state);
    if (transaction.docChanged || transaction.selection) return null;
    return shown;
  },
  provide: (field) => showTooltip.from(field),
});
