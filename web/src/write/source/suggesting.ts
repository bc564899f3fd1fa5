import {
  EditorState,
  Facet,
  StateEffect,
  StateField,
  Transaction,
  type Extension,
  type Text,
  type TransactionSpec,
} from '@codemirror/state';
import { Decoration, EditorView, keymap, ViewPlugin, WidgetType, type DecorationSet } from '@codemirror/view';
import { written } from '../../ui/keyNames';
import { bind } from './keys';

/** A passage, and the words that are being suggested for it. */
export interface Slip {
  /** One for each slip: it stays the same while its passage moves. */
  id: number;
  from: number;
  to: number;
  /** The words as one began with them, the first key already in them. */
  text: string;
  /** Where the cursor stands in them. */
  anchor: number;
  head: number;
}

/** Sends a suggestion for a passage; resolves to what went wrong, or to nothing. */
export type SendSlip = (passage: { from: number; to: number }, proposal: string, why: string) => Promise<string>;

/** Whether what one types is a suggestion, and leaves the text as it is. */
export const suggests = Facet.define<boolean, boolean>({ combine: (values) => values.some(Boolean) });

export const setSlip = StateEffect.define<Slip | null>();

/** Of longer lines a sentence is suggested on, or what is chosen. */
const sentenceEnd = /[.!?…:;]["'’”)\]}]*\s+(?=\S)/g;

/** The sentence around a stretch, within its lines. */
export function sentenceAround(doc: Text, from: number, to: number): { from: number; to: number } {
  const start = doc.lineAt(from).from;
  const end = doc.lineAt(to).to;
  const words = doc.sliceString(start, end);
  let [first, last] = [0, words.length];
  for (const match of words.matchAll(sentenceEnd)) {
    const next = match.index + match[0].length;
    if (next <= from - start) first = next;
    else if (next > to - start) {
      last = match.index + match[0].trimEnd().length;
      break;
    }
  }
  // The cursor may stand in the blank between two.
  return { from: start + first, to: Math.max(start + last, to) };
}

let made = 0;

/** A slip for what a change would make of the text. */
export function slipOf(transaction: Transaction): Slip | null {
  let [from, to] = [Infinity, 0];
  transaction.changes.iterChangedRanges((begin, end) => {
    from = Math.min(from, begin);
    to = Math.max(to, end);
  });
  if (from > to) return null;
  const passage = sentenceAround(transaction.startState.doc, from, to);
  const start = passage.from;
  const end = transaction.changes.mapPos(passage.to, 1);
  const text = transaction.newDoc.sliceString(start, end);
  const within = (at: number) => Math.min(Math.max(at - start, 0), text.length);
  const { anchor, head } = transaction.newSelection.main;
  return { id: ++made, ...passage, text, anchor: within(anchor), head: within(head) };
}

/** A slip on the sentence of the cursor, or on what is chosen. */
export function slipHere(state: EditorState): Slip {
  const { main } = state.selection;
  const passage = main.empty ? sentenceAround(state.doc, main.from, main.to) : { from: main.from, to: main.to };
  const text = state.sliceDoc(passage.from, passage.to);
  return {
    id: ++made,
    ...passage,
    text,
    anchor: main.empty ? main.head - passage.from : 0,
    head: main.empty ? main.head - passage.from : text.length,
  };
}

/** Opens a slip here; false where one is open, or for those who only read. */
export const suggestHere = (view: Pick<EditorView, 'state' | 'dispatch'>) => {
  if (view.state.readOnly || view.state.field(slipField, false)?.slip) return false;
  view.dispatch({ effects: setSlip.of(slipHere(view.state)) });
  return true;
};

// What one types becomes a slip, and the text stays as it is. What comes from others comes in.
const typedIsSuggested = EditorState.transactionFilter.of(
  (transaction): TransactionSpec | readonly TransactionSpec[] => {
    const { startState: before } = transaction;
    if (!transaction.docChanged || !before.facet(suggests) || transaction.annotation(Transaction.remote))
      return transaction;
    const slip = before.field(slipField).slip ? null : slipOf(transaction);
    return slip ? { effects: setSlip.of(slip) } : [];
  },
);

interface Shown {
  slip: Slip | null;
  marks: DecorationSet;
}

const slipField = StateField.define<Shown>({
  create: () => ({ slip: null, marks: Decoration.none }),
  update(shown, transaction) {
    let { slip } = shown;
    for (const effect of transaction.effects) if (effect.is(setSlip)) slip = effect.value;
    if (slip && transaction.docChanged && slip === shown.slip) {
      const from = transaction.changes.mapPos(slip.from, 1);
      slip = { ...slip, from, to: Math.max(from, transaction.changes.mapPos(slip.to, -1)) };
    }
    if (slip === shown.slip) return shown;
    if (!slip) return { slip, marks: Decoration.none };
    const widget = Decoration.widget({ widget: new SlipWidget(slip), block: true, side: 1 });
    const marks = [widget.range(transaction.state.doc.lineAt(slip.to).to)];
    if (slip.to > slip.from) marks.unshift(Decoration.mark({ class: 'cm-slip-passage' }).range(slip.from, slip.to));
    return { slip, marks: Decoration.set(marks, true) };
  },
  provide: (field) => EditorView.decorations.from(field, ({ marks }) => marks),
});

const sender = Facet.define<SendSlip, SendSlip | null>({ combine: (values) => values[0] ?? null });

/** The slip under its passage: the words to change, why, and two buttons. */
class SlipWidget extends WidgetType {
  constructor(private readonly slip: Slip) {
    super();
  }

  override eq(other: SlipWidget) {
    return other.slip.id === this.slip.id;
  }

  override get estimatedHeight() {
    return 130;
  }

  override ignoreEvent() {
    return true;
  }

  override toDOM(view: EditorView) {
    const form = document.createElement('form');
    form.className = 'cm-slip';
    form.setAttribute('aria-label', 'A suggestion');
    const words = document.createElement('textarea');
    words.setAttribute('aria-label', 'What should stand there');
    words.value = this.slip.text;
    words.rows = 1;
    const why = document.createElement('input');
    why.setAttribute('aria-label', 'Why');
    why.placeholder = 'Why; @ and a name tells someone';
    const problem = document.createElement('p');
    problem.setAttribute('role', 'alert');
    const send = button('Suggest', 'button button-main', written('Mod-Enter'));
    send.type = 'submit';
    const leave = button('Cancel', 'button', 'Esc');
    const row = document.createElement('div');
    row.append(why, send, leave);
    form.append(words, problem, row);

    const end = () => {
      view.dispatch({ effects: setSlip.of(null) });
      view.focus();
    };
    leave.onclick = end;
    form.onsubmit = (event) => {
      event.preventDefault();
      const { slip } = view.state.field(slipField);
      const sends = view.state.facet(sender);
      if (!slip || !sends || send.disabled) return;
      send.disabled = true;
      void sends(slip, words.value, why.value).then((wrong) => {
        send.disabled = false;
        problem.textContent = wrong;
        if (!wrong) end();
        else view.requestMeasure();
      });
    };
    form.onkeydown = (event) => {
      // The editor around it hears nothing of these.
      event.stopPropagation();
      if (event.key === 'Escape') {
        event.preventDefault();
        end();
      } else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault();
        form.requestSubmit();
      }
    };
    return form;
  }
}

function button(name: string, look: string, title: string) {
  const made = document.createElement('button');
  made.type = 'button';
  made.className = look;
  made.textContent = name;
  made.title = title;
  return made;
}

// Once it stands in the page it takes the keys, from the next one on.
const focusOnSlip = ViewPlugin.define((view) => ({
  update({ startState, state }) {
    const [before, { slip }] = [startState.field(slipField).slip, state.field(slipField)];
    if (!slip || slip.id === before?.id) return;
    queueMicrotask(() => {
      const words = view.dom.querySelector<HTMLTextAreaElement>('.cm-slip textarea');
      words?.focus();
      words?.setSelectionRange(Math.min(slip.anchor, slip.head), Math.max(slip.anchor, slip.head));
    });
  },
}));

/** Suggestions that are written over the text. */
export const suggesting = (send: SendSlip): Extension => [
  slipField,
  sender.of(send),
  typedIsSuggested,
  focusOnSlip,
  keymap.of([bind('Mod-Alt-s', suggestHere)]),
];
