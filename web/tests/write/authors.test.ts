import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { describe, expect, it } from 'vitest';
import { authorMargin, mainAuthor, setAuthors, type AuthoredStretch } from '../../src/write/source/authors';

const by = (from: number, to: number, event: number): AuthoredStretch => ({
  from,
  to,
  event,
  colour: 'var(--color-slate)',
  initials: `P${event}`,
  says: `Person ${event}`,
});

describe('who wrote this', () => {
  it('says whose most of a line is', () => {
    const within = (event: number, length: number) => ({ ...by(0, 9, event), within: length });
    expect(mainAuthor([within(1, 3), within(2, 4), within(1, 2)])?.event).toBe(1);
    expect(mainAuthor([])).toBeNull();
  });

  it('stands in the margin, goes along with the text, and goes when it isn’t wanted', () => {
    const view = new EditorView({
      state: EditorState.create({ doc: 'one\ntwo\nthree\n', extensions: authorMargin }),
      parent: document.body,
    });
    const marks = () => [...view.dom.querySelectorAll<HTMLElement>('.cm-author')].map((m) => m.textContent.trim());
    expect(marks()).toEqual([]);
    view.dispatch({ effects: setAuthors.of([by(0, 8, 1), by(8, 14, 2), by(14, 99, 3)]) });
    expect(marks()).toEqual(['P1', '', 'P2']);
    // What is typed is nobody’s yet.
    view.dispatch({ changes: { from: 4, insert: 'new\n' } });
    expect(marks()).toEqual(['P1', 'P1', 'P2']);
    view.dispatch({ effects: setAuthors.of(null) });
    expect(marks()).toEqual([]);
    view.destroy();
  });
});
