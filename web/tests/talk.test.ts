import { describe, expect, it } from 'vitest';
import type { TalkLink, TalkMessage } from '../src/api/client';
import { addressOfLink, goesOn, nameOfLink } from '../src/talk/talk';

const link = (more: Partial<TalkLink>): TalkLink => ({
  kind: 'passage',
  path: 'chapters/a b.tex',
  line: 7,
  revision: 0,
  from: 1,
  to: 5,
  words: 'A wall',
  isGone: false,
  target: '',
  name: '',
  ...more,
});
const message = (person: number, at: string): TalkMessage => ({
  id: 1,
  person: { id: person, name: 'X', colour: 'x' },
  at,
  text: 'Text',
  link: null,
});

describe('what a message leads to', () => {
  it('is a line of a file, a source, or a moment', () => {
    expect(addressOfLink(3, link({}))).toBe('/m/3/write?file=chapters%2Fa%20b.tex&line=7');
    expect(addressOfLink(3, link({ kind: 'page', target: '4' }))).toBe('/m/3/write?file=chapters%2Fa%20b.tex&line=7');
    expect(addressOfLink(3, link({ kind: 'source', target: 'a&b' }))).toBe('/m/3/sources?key=a%26b');
    expect(addressOfLink(3, link({ kind: 'pin', revision: 12 }))).toBe('/m/3/chronicle?from=12');
  });
  it('leads nowhere when it is gone, and says so', () => {
    const gone = link({ isGone: true });
    expect(addressOfLink(3, gone)).toBeNull();
    expect(nameOfLink(gone)).toBe('“A wall”, which is gone');
    expect(nameOfLink(link({ kind: 'pin', isGone: true }))).toBe('a pin that is gone');
    expect(nameOfLink(link({ kind: 'page', target: '4', isGone: true }))).toBe('page 4, whose words are gone');
  });
  it('has a name', () => {
    expect(nameOfLink(link({}))).toBe('“A wall”');
    expect(nameOfLink(link({ kind: 'page', target: '4' }))).toBe('page 4');
    expect(nameOfLink(link({ kind: 'pin', name: 'Draft two' }))).toBe('◆ Draft two');
    expect(nameOfLink(link({ kind: 'source', target: 'rook1987' }))).toBe('the source rook1987');
  });
});

describe('messages of one person', () => {
  it('stand under one name when they come within minutes', () => {
    const first = message(1, '2026-03-01T10:00:00Z');
    expect(goesOn(message(1, '2026-03-01T10:04:00Z'), first)).toBe(true);
    expect(goesOn(message(1, '2026-03-01T10:06:00Z'), first)).toBe(false);
    expect(goesOn(message(2, '2026-03-01T10:01:00Z'), first)).toBe(false);
    expect(goesOn(first, undefined)).toBe(false);
  });
});
