import { Transaction } from '@codemirror/state';
import type { ViewUpdate } from '@codemirror/view';
import type { Stretch } from './blocks';

/** A word counts as typed when nothing was added to it for so long, in milliseconds. */
const Pause = 2500;

/** The stretch without spaces around a place of a line, from its beginning. */
export function wordAround(line: string, at: number): Stretch {
  let from = at;
  let to = at;
  while (from > 0 && !/\s/.test(line[from - 1]!)) from--;
  while (to < line.length && !/\s/.test(line[to]!)) to++;
  return { from, to };
}

/** The word that is being typed, until the cursor leaves it or a while has passed. */
export class TypedWord {
  word: Stretch | null = null;
  private timer = 0;

  /** @param onDone The word is done. */
  constructor(private readonly onDone: () => void) {}

  /** Takes notice of a change of the text or the cursor. */
  see(update: ViewUpdate) {
    const { state } = update;
    const { head } = state.selection.main;
    const line = state.doc.lineAt(head);
    const isTyped = update.transactions.some(
      (t) =>
        t.docChanged && !t.annotation(Transaction.remote) && (t.isUserEvent('input.type') || t.isUserEvent('delete')),
    );
    if (isTyped) {
      const { from, to } = wordAround(line.text, head - line.from);
      const wasTyped = this.word !== null;
      this.word = from < to ? { from: line.from + from, to: line.from + to } : null;
      // A space ends it.
      if (this.word || wasTyped) this.endAfter(this.word ? Pause : 0);
      return;
    }
    if (!this.word) return;
    if (update.docChanged)
      this.word = { from: update.changes.mapPos(this.word.from, -1), to: update.changes.mapPos(this.word.to, 1) };
    if (head < this.word.from || head > this.word.to) this.endAfter(0);
  }

  close() {
    window.clearTimeout(this.timer);
  }

  // Never within an update: what hears of it changes the view.
  private endAfter(pause: number) {
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => {
      this.word = null;
      this.onDone();
    }, pause);
  }
}
