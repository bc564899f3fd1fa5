import type { Command, KeyBinding } from '@codemirror/view';

/** The keys of the source leaf, and what they do: what the sheet of keys says, and nothing is bound that isn't here. */
export const sourceKeys = {
  'Mod-i': 'Emphasis, around the words or away from them',
  'Mod-b': 'Bold',
  'Mod-Shift-k': 'Code',
  'Mod-/': 'Comment the lines, or take the sign away',
  'Alt-ArrowUp': 'Move the lines up',
  'Alt-ArrowDown': 'Move the lines down',
  'Mod-d': 'Choose the next place with the same words too',
  'Mod-.': 'Fold or unfold the section, environment or comment',
  'Mod-Alt-.': 'Fold all; with Shift unfold all',
  'Mod-z': 'Undo what you wrote',
  'Mod-y': 'Do it again',
  'Mod-f': 'Find in this file',
  'Mod-Shift-f': 'Find in all files',
  'Mod-h': 'Replace in all files',
  'Alt-.': 'To where the name at the cursor is defined (also Ctrl and a click)',
  F2: 'Rename the label, command or environment at the cursor everywhere; with Shift all its uses',
  F7: 'A new table, or the one at the cursor as a grid; with Shift the next word that no dictionary has',
  'Mod-Enter': 'The proof of what is written, now, and turned to the cursor',
  'Mod-Alt-n': 'A note in the margin, on the chosen words or the line',
  'Mod-Alt-s': 'Suggest other words for the sentence, or for the chosen words',
  'Mod-m': 'A new formula, or the one at the cursor, with help',
  F9: 'Refer to a label, found by words; with Shift cite a source',
  F3: 'The next place that was found; with Shift the one before',
} as const;

/** The keys that hold in the whole room. */
export const roomKeys = {
  F4: 'Everything by name: actions, files, sections, labels, sources',
  F6: 'From leaf to leaf; with Shift backwards',
  'Escape Tab': 'Out of the text, where Tab indents',
  F8: 'To the next finding; with Shift the one before',
  'Mod-p': 'Opens the proof as a PDF, to be printed',
  'Mod-s': 'Says that all is saved: it is, by itself',
  '?': 'This sheet, outside the text',
} as const;

type SourceKey = keyof typeof sourceKeys;

/** A key of the source leaf with what it does. */
export const bind = (key: SourceKey, run: Command, shift?: Command): KeyBinding => ({
  key,
  run,
  shift,
  preventDefault: true,
});
