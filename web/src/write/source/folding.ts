import { codeFolding, foldAll, foldGutter, foldService, toggleFold, unfoldAll } from '@codemirror/language';
import type { Extension } from '@codemirror/state';
import { keymap } from '@codemirror/view';
import { plural } from '../../ui/words';
import { foldAt } from './blocks';
import { bind } from './keys';

/** Sections, environments and runs of comments fold, at the sign beside their first line and by key. */
export const folding: Extension = [
  foldService.of((state, from) => foldAt(state.doc, state.doc.lineAt(from).number)),
  codeFolding({
    preparePlaceholder: (state, { from, to }) => state.doc.lineAt(to).number - state.doc.lineAt(from).number,
    placeholderDOM: (_view, onclick, lines: number) => {
      const folded = document.createElement('button');
      folded.className = 'cm-folded';
      folded.textContent = plural(lines, 'line');
      folded.title = 'Unfold';
      folded.onclick = onclick;
      return folded;
    },
  }),
  foldGutter({
    markerDOM: (isOpen) => {
      const sign = document.createElement('span');
      sign.className = isOpen ? 'cm-fold' : 'cm-fold cm-fold-shut';
      sign.title = isOpen ? 'Fold' : 'Unfold';
      return sign;
    },
  }),
  keymap.of([bind('Mod-.', toggleFold), bind('Mod-Alt-.', foldAll, unfoldAll)]),
];
