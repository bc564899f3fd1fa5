import { EditorState } from '@codemirror/state';
import { expect, test } from 'vitest';
import { goesWithWords } from '../src/write/source/hovering';

const shown = { pos: 4, end: 9, create: () => ({ dom: null! }) };
const state = EditorState.create({ doc: 'The walls of the valley' });

test.each([
  ['other words in its place', { from: 4, to: 9, insert: 'stones' }, true],
  ['a letter within', { from: 6, to: 6, insert: 'l' }, true],
  ['a letter at its end', { from: 9, to: 9, insert: 's' }, true],
  ['the word gone with more', { from: 0, to: 12, insert: '' }, true],
  ['what a co-writer types before it', { from: 0, to: 0, insert: 'See: ' }, false],
  ['what comes behind it', { from: 16, to: 16, insert: ' long' }, false],
])('what is shown over a word stays or goes: %s', (_, changes, goes) => {
  expect(goesWithWords.hideOn(state.update({ changes }), shown)).toBe(goes);
});

test('choosing words elsewhere leaves it', () => {
  expect(goesWithWords.hideOn(state.update({ selection: { anchor: 1 } }), shown)).toBe(false);
});
