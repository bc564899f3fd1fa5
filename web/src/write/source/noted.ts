import { StateEffect, StateField, type Extension } from '@codemirror/state';
import { Decoration, EditorView, type DecorationSet } from '@codemirror/view';

/** A passage with a note on it. */
export interface NotedStretch {
  id: number;
  from: number;
  to: number;
  isChosen: boolean;
}

export const setNoted = StateEffect.define<readonly NotedStretch[]>();

/** Marks passages with notes; from there on the text carries the marks along. */
export const notedMarks: Extension = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    for (const effect of transaction.effects) {
      if (!effect.is(setNoted)) continue;
      const all = effect.value.filter(({ from, to }) => from < to && to <= transaction.state.doc.length);
      return Decoration.set(
        all.map(({ id, from, to, isChosen }) =>
          Decoration.mark({
            class: isChosen ? 'cm-noted cm-noted-chosen' : 'cm-noted',
            attributes: { 'data-note': String(id), title: 'A note is on this: click to read it' },
          }).range(from, to),
        ),
        true,
      );
    }
    return transaction.docChanged ? marks.map(transaction.changes) : marks;
  },
  provide: (field) => EditorView.decorations.from(field),
});
