import { Transaction, type EditorState } from '@codemirror/state';
import type { ViewUpdate } from '@codemirror/view';
import { environmentAround } from './blocks';

/** What newcomers trip over, said once. */
export const hints = {
  'line end': 'A line’s end is a space in print. To begin a paragraph, leave an empty line.',
  'line break': '\\\\ breaks the line within its paragraph. To begin a paragraph, leave an empty line.',
} as const;

export type Hint = keyof typeof hints;

/** Within these every line is a line of its own, or \\ ends a row. */
const byLines =
  /^(tabular|tabularx|longtable|array|align|gather|multline|eqnarray|split|aligned|cases|[pbBvV]?matrix|verse|center|titlepage|verbatim|lstlisting|minted|Verbatim|tikzpicture)/;

/** What there is to say after something was typed at a place; null when nothing is. */
export function hintAt(state: EditorState, at: number): Hint | null {
  const line = state.doc.lineAt(at);
  const typed = line.text.trim();
  const isBreak = /[a-z.,;:!?)]\s?\\\\$/i.test(typed) && !typed.includes('&');
  // The first letter of a line that goes on from words.
  const before = /^[A-Za-z]$/.test(typed) && line.number > 1 ? state.doc.line(line.number - 1).text : '';
  const goesOn = /^[^\\%&]*[a-z]{2,}[,;.:!?]?$/i.test(before.trim()) && before.trim().includes(' ');
  if (!isBreak && !goesOn) return null;
  const around = environmentAround(state.doc, at);
  // A preamble has no paragraphs; a chapter's file has them outside any environment.
  if (around === null ? state.doc.sliceString(0, at).includes('\\documentclass') : byLines.test(around)) return null;
  return isBreak ? 'line break' : 'line end';
}

/** The hint for what was just typed here; null when there is none. */
export function hintOf(update: ViewUpdate): Hint | null {
  const isTyped = update.transactions.some((t) => t.isUserEvent('input.type') && !t.annotation(Transaction.remote));
  return isTyped ? hintAt(update.state, update.state.selection.main.head) : null;
}
