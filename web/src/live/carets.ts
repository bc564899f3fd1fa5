import { StateEffect, StateField, type Extension } from '@codemirror/state';
import { Decoration, EditorView, WidgetType, type DecorationSet } from '@codemirror/view';
import { foreign } from './workingCopy';

/** Another writer's cursor and selection. */
export interface Caret {
  seat: string;
  clientId: string;
  name: string;
  colour: string;
  anchor: number;
  head: number;
}

/** Says who moved, and who is still there: the others' cursors stay where the text has carried them. */
export const setCarets = StateEffect.define<{ moved: readonly Caret[]; there: ReadonlySet<string> }>();

/** Shows the others' cursors with name and colour. Between two words from the server they move with the text. */
export const carets: Extension = StateField.define<{ all: readonly Caret[]; shown: DecorationSet }>({
  create: () => ({ all: [], shown: Decoration.none }),
  update(value, transaction) {
    let all = value.all;
    if (transaction.docChanged) {
      const others = transaction.annotation(foreign);
      for (const update of others ?? [{ clientId: '', changes: transaction.changes }]) {
        all = all.map((c) => {
          const side = c.clientId === update.clientId ? 1 : -1;
          return { ...c, anchor: update.changes.mapPos(c.anchor, side), head: update.changes.mapPos(c.head, side) };
        });
      }
    }
    for (const effect of transaction.effects) {
      if (!effect.is(setCarets)) continue;
      const { moved, there } = effect.value;
      const rest = all.filter((c) => there.has(c.seat) && !moved.some((m) => m.seat === c.seat));
      if (moved.length > 0 || rest.length < all.length) all = [...rest, ...moved];
    }
    return all === value.all ? value : { all, shown: draw(all, transaction.state.doc.length) };
  },
  provide: (field) => EditorView.decorations.from(field, (value) => value.shown),
});

function draw(all: readonly Caret[], length: number): DecorationSet {
  const marks = all.flatMap((c) => {
    const head = Math.min(c.head, length);
    const [from, to] = [Math.min(c.anchor, c.head), Math.min(Math.max(c.anchor, c.head), length)];
    const caret = Decoration.widget({
      widget: new CaretFlag(c.name, c.colour, head),
      side: c.head < c.anchor ? 1 : -1,
    }).range(head);
    const selection = Decoration.mark({ attributes: { style: `background:${c.colour}2e` } });
    return from < to ? [selection.range(from, to), caret] : [caret];
  });
  return Decoration.set(marks, true);
}

class CaretFlag extends WidgetType {
  constructor(
    readonly name: string,
    readonly colour: string,
    private readonly at: number,
  ) {
    super();
  }

  // Whoever moves is named anew; the name of who rests fades, so that it covers no words.
  override eq(other: CaretFlag) {
    return other.name === this.name && other.colour === this.colour && other.at === this.at;
  }

  override toDOM() {
    const caret = document.createElement('span');
    caret.className = 'cm-caret-of';
    caret.style.setProperty('--person', this.colour);
    const flag = document.createElement('span');
    flag.className = 'cm-caret-name';
    flag.textContent = this.name.split(' ')[0] ?? this.name;
    caret.append('\u2060', flag);
    caret.setAttribute('aria-label', `${this.name} is here`);
    return caret;
  }

  override ignoreEvent() {
    return true;
  }
}
