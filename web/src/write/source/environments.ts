import { EditorState, Transaction, type ChangeSpec, type Extension, type Range, type Text } from '@codemirror/state';
import { Decoration, EditorView, ViewPlugin, type DecorationSet, type ViewUpdate } from '@codemirror/view';
import { namesIn, partnerOf, type EnvironmentName } from './blocks';

/** The name of an environment that a place is in or at; null elsewhere. */
export function nameAt(doc: Text, at: number): EnvironmentName | null {
  const line = doc.lineAt(at);
  if (!line.text.includes('\\')) return null;
  return namesIn(line.text, line.from).find((n) => n.from <= at && at <= n.to) ?? null;
}

const matched = Decoration.mark({ class: 'cm-matchingBracket' });
const alone = Decoration.mark({ class: 'cm-nonmatchingBracket' });

/** Both ends of the environment whose name the cursor is at. */
export function endsAt(state: EditorState): DecorationSet {
  const { main } = state.selection;
  const name = main.empty ? nameAt(state.doc, main.head) : null;
  if (!name || name.from === name.to) return Decoration.none;
  const partner = partnerOf(state.doc, name);
  const ranges: Range<Decoration>[] = partner
    ? [
        matched.range(name.from, name.to),
        ...(partner.to > partner.from ? [matched.range(partner.from, partner.to)] : []),
      ]
    : [alone.range(name.from, name.to)];
  return Decoration.set(ranges, true);
}

const marks = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;
    constructor(view: EditorView) {
      this.decorations = endsAt(view.state);
    }
    update(update: ViewUpdate) {
      if (update.docChanged || update.selectionSet) this.decorations = endsAt(update.state);
    }
  },
  { decorations: (plugin) => plugin.decorations },
);

/** What is typed in one name of an environment comes into the other, as one change. */
const bothNames = EditorState.transactionFilter.of((transaction) => {
  const isTyped = transaction.isUserEvent('input.type') || transaction.isUserEvent('delete');
  if (!transaction.docChanged || !isTyped || transaction.annotation(Transaction.remote)) return transaction;
  const { doc } = transaction.startState;
  const extra: ChangeSpec[] = [];
  let count = 0;
  transaction.changes.iterChanges((from, to, _start, _end, inserted) => {
    count++;
    const name = nameAt(doc, from);
    // The whole change is within the name, and leaves a name.
    if (!name || to > name.to || !/^[A-Za-z@*]*$/.test(inserted.toString())) return;
    const partner = partnerOf(doc, name);
    if (!partner) return;
    extra.push({ from: partner.from + from - name.from, to: partner.from + to - name.from, insert: inserted });
  });
  return count === 1 && extra.length === 1 ? [transaction, { changes: extra }] : transaction;
});

/** Marks both ends of an environment, and keeps their names the same. */
export const environments: Extension = [marks, bothNames];
