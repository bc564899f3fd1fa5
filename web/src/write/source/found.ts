import { StateEffect, StateField, type Extension } from '@codemirror/state';
import { Decoration, EditorView, type DecorationSet } from '@codemirror/view';

/** A stretch that was found. */
export interface FoundStretch {
  from: number;
  to: number;
}

export const setFound = StateEffect.define<readonly FoundStretch[]>();

const mark = Decoration.mark({ class: 'cm-found' });

/** Marks what was found; from there on the text carries the marks along. */
export const foundMarks: Extension = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    for (const effect of transaction.effects) {
      if (!effect.is(setFound)) continue;
      const all = effect.value.filter(({ from, to }) => from < to && to <= transaction.state.doc.length);
      return Decoration.set(
        all.map(({ from, to }) => mark.range(from, to)),
        true,
      );
    }
    return transaction.docChanged ? marks.map(transaction.changes) : marks;
  },
  provide: (field) => EditorView.decorations.from(field),
});
