import { describe, expect, it } from 'vitest';
import type { Note, OutlineLine, Person } from '../../src/api/client';
import { brief, bySections, decidedTogether, isStale, isWanted, namePieces, suggestionOf } from '../../src/notes/notes';

const ilse: Person = { id: 1, name: 'Ilse Marrable', colour: 'x' };
const anton: Person = { id: 3, name: 'Anton Quill', colour: 'x' };
const note = (id: number, more: Partial<Note> = {}): Note => ({
  id,
  file: 1,
  path: 'a.tex',
  version: 1,
  from: id,
  to: id + 5,
  line: id,
  words: 'words',
  isGone: false,
  person: anton,
  at: '2026-03-01T10:00:00Z',
  text: 'Text',
  settledBy: null,
  replies: [],
  names: [],
  proposal: null,
  instead: null,
  isTaken: null,
  ...more,
});
const heading = (title: string, file: string, line: number): OutlineLine => ({
  level: 1,
  number: title,
  title,
  page: '1',
  sheet: 1,
  file,
  line,
  offset: 0,
  words: 0,
});

describe('notes', () => {
  it('are filtered by whether they are open, and whom they concern', () => {
    const of = (n: Note) => (['open', 'mine', 'me', 'settled'] as const).filter((f) => isWanted(n, f, ilse));
    expect(of(note(1))).toEqual(['open']);
    expect(of(note(1, { person: ilse }))).toEqual(['open', 'mine']);
    expect(of(note(1, { replies: [{ id: 1, person: ilse, at: '', text: '' }] }))).toEqual(['open', 'mine']);
    expect(of(note(1, { names: [1] }))).toEqual(['open', 'me']);
    expect(of(note(1, { names: [1], person: ilse, settledBy: anton }))).toEqual(['settled']);
  });

  it('stand under their headings in the order of the manuscript', () => {
    const outline = [heading('1', 'a.tex', 3), heading('2', 'b.tex', 1), heading('3', 'a.tex', 20)];
    const all = [note(25), note(1), note(5, { path: 'b.tex' }), note(4), note(9, { path: '', isGone: true })];
    expect(bySections(all, outline).map((s) => [s.section, ...s.notes.map((n) => n.id)])).toEqual([
      [-1, 1, 9],
      [0, 4],
      [1, 5],
      [2, 25],
    ]);
  });

  it('show whom they name, and no markup of their own', () => {
    const pieces = (text: string) => namePieces(text, [ilse, anton]).map((p) => (p.isName ? `[${p.text}]` : p.text));
    expect(pieces('Ask @Ilse Marrable, or @anton.')).toEqual(['Ask ', '[@Ilse Marrable]', ', or ', '[@anton]', '.']);
    expect(pieces('@Antonia <b>x</b>')).toEqual(['@Antonia <b>x</b>']);
    expect(namePieces('x', [])).toEqual([{ text: 'x', isName: false }]);
  });

  it('cut their passages short', () => {
    expect(brief(' a\n b ')).toBe('a b');
    expect(brief('word '.repeat(40))).toMatch(/^(word )+…$/);
  });
});

describe('suggestions', () => {
  const one = note(4, { proposal: 'other', instead: 'words' });
  it('are among the open ones, and by themselves until they are decided', () => {
    expect(isWanted(one, 'open', ilse)).toBe(true);
    expect(isWanted(one, 'suggested', ilse)).toBe(true);
    expect(isWanted(note(1), 'suggested', ilse)).toBe(false);
    expect(isWanted({ ...one, settledBy: ilse, isTaken: true }, 'suggested', ilse)).toBe(false);
  });
  it('are shown in the text until they are decided, and say when their words were changed', () => {
    expect(suggestionOf(one)).toEqual({ proposal: 'other', name: 'Anton Quill', colour: 'x', isStale: false });
    expect(suggestionOf({ ...one, words: 'word' })?.isStale).toBe(true);
    expect(suggestionOf({ ...one, settledBy: ilse })).toBeNull();
    expect(suggestionOf(note(1))).toBeNull();
    expect(isStale({ ...one, isGone: true })).toBe(true);
  });
});

describe('suggestions that are decided together', () => {
  const open = [
    note(1, { proposal: 'a', instead: 'words' }),
    note(2, { proposal: 'b', instead: 'words', person: ilse }),
    note(3, { proposal: 'c', instead: 'words' }),
  ];
  const all = [...open, note(4), note(5, { proposal: 'd', settledBy: ilse, isTaken: true })];
  const ids = (notes: Note[]) => notes.map((n) => n.id);
  it('are all, or those of one person', () => {
    expect(ids(decidedTogether(all, new Set(), 0))).toEqual([1, 2, 3]);
    expect(ids(decidedTogether(all, new Set(), ilse.id))).toEqual([2]);
    expect(ids(decidedTogether(all, new Set(), 99))).toEqual([1, 2, 3]);
  });
  it('are those that were chosen by hand, whoever made them, as long as they wait', () => {
    expect(ids(decidedTogether(all, new Set([2, 3, 4, 5]), anton.id))).toEqual([2, 3]);
    expect(ids(decidedTogether(all, new Set([4, 5]), 0))).toEqual([1, 2, 3]);
  });
});
