import { EditorState, Text, Transaction } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import {
  sentenceAround,
  setSlip,
  slipHere,
  slipOf,
  suggestHere,
  suggesting,
  suggests,
  type Slip,
} from '../src/write/source/suggesting';

const source = 'First sentence. The second one (of two)! Third?\n\nAnother line, \\cite{a}. End.\n';
const doc = Text.of(source.split('\n'));
const said = (from: number, to = from) => {
  const found = sentenceAround(doc, from, to);
  return doc.sliceString(found.from, found.to);
};

describe('the sentence around a place', () => {
  it('is the one that it stands in, with its end', () => {
    expect(said(0)).toBe('First sentence.');
    expect(said(source.indexOf('second'))).toBe('The second one (of two)!');
    expect(said(source.indexOf('Third') + 6)).toBe('Third?');
    expect(said(source.indexOf('cite'))).toBe('Another line, \\cite{a}.');
  });
  it('is all of those that a stretch lies in, and of an empty line nothing', () => {
    expect(said(3, source.indexOf('Third'))).toBe('First sentence. The second one (of two)! Third?');
    expect(said(source.indexOf('\n\n') + 1)).toBe('');
  });
  it('never leaves its lines, nor the stretch itself out', () => {
    for (let from = 0; from <= source.length; from++)
      for (let to = from; to <= Math.min(source.length, from + 40); to++) {
        const found = sentenceAround(doc, from, to);
        expect(found.from).toBeLessThanOrEqual(from);
        expect(found.to).toBeGreaterThanOrEqual(to);
        expect(found.from).toBeGreaterThanOrEqual(doc.lineAt(from).from);
        expect(found.to).toBeLessThanOrEqual(doc.lineAt(to).to);
      }
  });
});

describe('who suggests', () => {
  let opened: Slip | null = null;
  const begin = (isSuggested: boolean) =>
    EditorState.create({ doc, extensions: [suggesting(() => Promise.resolve('')), suggests.of(isSuggested)] });
  const slipIn = (transaction: Transaction) => transaction.effects.find((e) => e.is(setSlip))?.value as Slip | null;

  it('changes nothing: a key becomes a slip with the key in it', () => {
    const at = source.indexOf('second');
    const typed = begin(true).update({ changes: { from: at, insert: 'new ' }, selection: { anchor: at + 4 } });
    expect(typed.docChanged).toBe(false);
    opened = slipIn(typed);
    expect(opened).toMatchObject({ text: 'The new second one (of two)!', anchor: 8, head: 8 });
    expect(doc.sliceString(opened!.from, opened!.to)).toBe('The second one (of two)!');
  });
  it('suggests that words go, and of several places the stretch from the first to the last', () => {
    const state = begin(true);
    expect(slipIn(state.update({ changes: { from: 0, to: 6 } }))).toMatchObject({ text: 'sentence.' });
    const both = state.update({
      changes: [
        { from: 0, insert: 'A ' },
        { from: source.indexOf('Third'), insert: 'B ' },
      ],
    });
    expect(slipIn(both)!.text).toBe('A First sentence. The second one (of two)! B Third?');
  });
  it('opens one slip at a time, which goes along with what others write', () => {
    const state = begin(true).update({ changes: { from: 0, insert: 'x' } }).state;
    const again = state.update({ changes: { from: 20, insert: 'y' } });
    expect([again.docChanged, again.effects.length]).toEqual([false, 0]);
    const others = state.update({ changes: { from: 0, insert: 'Theirs. ' }, annotations: Transaction.remote.of(true) });
    expect(others.docChanged).toBe(true);
    expect(others.state.doc.toString()).toBe(`Theirs. ${source}`);
  });
  it('is nobody who writes', () => {
    expect(begin(false).update({ changes: { from: 0, insert: 'x' } }).docChanged).toBe(true);
  });
  it('is nobody who only reads', () => {
    const opens = (isReader: boolean) => {
      const state = EditorState.create({
        doc,
        extensions: [suggesting(() => Promise.resolve('')), EditorState.readOnly.of(isReader)],
      });
      let count = 0;
      return [suggestHere({ state, dispatch: () => void count++ }), count];
    };
    expect(opens(true)).toEqual([false, 0]);
    expect(opens(false)).toEqual([true, 1]);
  });
  it('may begin without a key, on what is chosen', () => {
    const state = begin(false).update({ selection: { anchor: 6, head: 14 } }).state;
    expect(slipHere(state)).toMatchObject({ from: 6, to: 14, text: 'sentence', anchor: 0, head: 8 });
    expect(slipHere(begin(false))).toMatchObject({ text: 'First sentence.', anchor: 0, head: 0 });
    expect(slipOf(state.update({ selection: { anchor: 0 } }))).toBeNull();
  });
});
