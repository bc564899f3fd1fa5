// @vitest-environment happy-dom
import { EditorView } from '@codemirror/view';
import { expect, test } from 'vitest';
import { heldPlaces, hold } from '../src/write/source/heldPlaces';

test('a held place goes along with what others write, and keeps its own words', () => {
  const view = new EditorView({ doc: 'one two three', extensions: [heldPlaces] });
  const place = hold(view, { from: 4, to: 7 });
  const at = hold(view, { from: 13, to: 13 });
  view.dispatch({ changes: { from: 0, insert: '>> ' } });
  expect([place.words(), at.now()]).toEqual(['two', { from: 16, to: 16 }]);
  view.dispatch({
    changes: [
      { from: 7, insert: '(' },
      { from: 10, insert: ')' },
    ],
  });
  expect(place.words()).toBe('two');
  view.dispatch({ changes: { from: 9, to: 10, insert: 'X' } });
  expect(place.words()).toBe('tXo');
  view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: '' } });
  expect(place.now()).toEqual({ from: 0, to: 0 });
  place.release();
  at.release();
  expect(view.state.field(heldPlaces).size).toBe(0);
});
