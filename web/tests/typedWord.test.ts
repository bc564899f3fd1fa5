import { EditorState, Transaction } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { TypedWord, wordAround } from '../src/write/source/typedWord';

describe('the word that is being typed', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  const open = (doc: string, at: number) => {
    const done = vi.fn();
    const word = new TypedWord(done);
    const state = EditorState.create({
      doc,
      selection: { anchor: at },
      extensions: EditorView.updateListener.of((u) => word.see(u)),
    });
    const view = new EditorView({ state });
    const type = (insert: string, userEvent = 'input.type') => {
      const { head } = view.state.selection.main;
      const change = { changes: { from: head, insert }, selection: { anchor: head + insert.length } };
      view.dispatch({ ...change, userEvent });
    };
    return { word, view, type, done };
  };

  it('is what stands around the cursor, and done after a while', () => {
    const { word, type, done } = open('a \\emp b', 6);
    type('h');
    expect(word.word).toEqual({ from: 2, to: 7 });
    vi.advanceTimersByTime(2400);
    type('x');
    vi.advanceTimersByTime(2400);
    expect([word.word, done.mock.calls.length]).toEqual([{ from: 2, to: 8 }, 0]);
    vi.advanceTimersByTime(200);
    expect([word.word, done.mock.calls.length]).toEqual([null, 1]);
  });

  it('is done when the cursor leaves it, or a space ends it', () => {
    const { word, view, type, done } = open('a \\emp b', 6);
    type('h');
    view.dispatch({ selection: { anchor: 0 } });
    vi.advanceTimersByTime(1);
    expect([word.word, done.mock.calls.length]).toEqual([null, 1]);
    view.dispatch({ selection: { anchor: 7 } });
    type('y');
    type(' ');
    expect(word.word).toBeNull();
    vi.advanceTimersByTime(1);
    expect(done.mock.calls.length).toBe(2);
  });

  it('moves with what others write, and is nothing of theirs', () => {
    const { word, view, type } = open('a \\emp b', 6);
    view.dispatch({
      changes: { from: 0, insert: 'x' },
      annotations: Transaction.remote.of(true),
      userEvent: 'input.type',
    });
    expect(word.word).toBeNull();
    type('h');
    view.dispatch({ changes: { from: 0, insert: 'by Bao ' }, annotations: Transaction.remote.of(true) });
    expect(word.word).toEqual({ from: 10, to: 15 });
  });

  it('has no spaces', () => expect(wordAround('one two three', 5)).toEqual({ from: 4, to: 7 }));
});
