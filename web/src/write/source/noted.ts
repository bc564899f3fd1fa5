import { StateEffect, StateField, type Extension, type Range } from '@codemirror/state';
import { Decoration, EditorView, WidgetType, type DecorationSet } from '@codemirror/view';

/** A passage with a note or a suggestion on it. */
export interface NotedStretch {
  id: number;
  from: number;
  to: number;
  isChosen: boolean;
  /** What is suggested in the place of its words, by whom, and in which colour; null: it is a note. */
  suggestion: { proposal: string; name: string; colour: string; isStale: boolean } | null;
}

export const setNoted = StateEffect.define<readonly NotedStretch[]>();

/** Marks passages with notes and suggestions; from there on the text carries the marks along. */
export const notedMarks: Extension = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    for (const effect of transaction.effects) {
      if (!effect.is(setNoted)) continue;
      const all = effect.value.filter(({ from, to }) => from < to && to <= transaction.state.doc.length);
      return Decoration.set(all.flatMap(marksOf), true);
    }
    return transaction.docChanged ? marks.map(transaction.changes) : marks;
  },
  provide: (field) => EditorView.decorations.from(field),
});

function marksOf({ id, from, to, isChosen, suggestion }: NotedStretch): Range<Decoration>[] {
  const chosen = isChosen ? ' cm-noted-chosen' : '';
  const mark = (name: string, title: string, style = '') =>
    Decoration.mark({ class: name + chosen, attributes: { 'data-note': String(id), title, style } }).range(from, to);
  if (!suggestion) return [mark('cm-noted', 'A note is on this: click to read it')];
  const { proposal, name, colour, isStale } = suggestion;
  const title = `${name} suggests other words${isStale ? ', and these were changed since' : ''}: click to read it`;
  const marks = [mark(isStale ? 'cm-suggested cm-suggested-stale' : 'cm-suggested', title, `--whose: ${colour}`)];
  if (proposal.trim() && !isStale)
    marks.push(Decoration.widget({ widget: new Proposal(id, proposal, title, colour), side: 1 }).range(to));
  return marks;
}

/** The words that are suggested, behind those that they would replace. */
class Proposal extends WidgetType {
  constructor(
    private readonly id: number,
    private readonly words: string,
    private readonly title: string,
    private readonly colour: string,
  ) {
    super();
  }

  override eq(other: Proposal) {
    return other.id === this.id && other.words === this.words && other.title === this.title;
  }

  override ignoreEvent() {
    return false;
  }

  override toDOM() {
    const shown = document.createElement('span');
    shown.className = 'cm-proposal';
    shown.style.setProperty('--whose', this.colour);
    shown.dataset.note = String(this.id);
    shown.title = this.title;
    shown.textContent = this.words;
    return shown;
  }
}
