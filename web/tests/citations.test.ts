import { describe, expect, it } from 'vitest';
import type { SourceRow } from '../src/api/client';
import { citingCommand, isRecord, keyBefore, offered, rank } from '../src/write/citations';

const row = (key: string, authors: string, title: string, year: string, uses = 0): SourceRow =>
  ({ key, authors, title, year, uses }) as SourceRow;

const pool = [
  row('orme2008', 'Orme', 'Aspect as a clock', '2008', 3),
  row('tansel1999', 'Tansel, Orme', 'Circles on stone', '1999', 9),
  row('rook1987', 'Rook', 'Ledgers of the Marrow Estate', '1987'),
];

describe('completing a citation', () => {
  it.each([
    ['as \\cite{', ''],
    ['as \\citep[see][p. 3]{orme2008, tan', 'tan'],
    ['as \\Textcite{circles on', 'circles on'],
    ['\\footcite*{a,  b', 'b'],
    ['as \\cite{orme2008} and', null],
    ['as \\ref{', null],
    ['as cite{', null],
  ])('%s', (text, typed) => {
    expect(keyBefore(text)).toBe(typed);
  });

  it('finds by key, name, title and year, all words together', () => {
    expect(offered(pool, 'orme').map((r) => r.key)).toEqual(['orme2008', 'tansel1999']);
    expect(offered(pool, 'orme circles').map((r) => r.key)).toEqual(['tansel1999']);
    expect(offered(pool, '1987 LEDG').map((r) => r.key)).toEqual(['rook1987']);
    expect(offered(pool, '')).toHaveLength(3);
    expect(offered(pool, 'nobody')).toEqual([]);
  });

  it('puts keys that begin so before others, then what is cited most', () => {
    const order = (typed: string) => [...pool].sort((a, b) => rank(b, typed) - rank(a, typed)).map((r) => r.key);
    expect(order('orme')).toEqual(['orme2008', 'tansel1999', 'rook1987']);
    expect(order('')[0]).toBe('tansel1999');
  });

  it('offers two hundred at most, so that the list is there at once', () => {
    const many = Array.from({ length: 5000 }, (_, i) => row(`key${i}`, 'Orme', 'Walls', '2000'));
    expect(offered(many, 'wall')).toHaveLength(200);
  });
});

describe('pasted text', () => {
  it.each([
    ['@article{orme2008, title = {Aspect}}', true],
    ['  @Book( vane2011 , title="Walls")', true],
    ['TY  - JOUR\nTI  - Walls\nER  - ', true],
    ['[{"type": "book", "title": "Walls"}]', true],
    ['mail me @ home, {please}', false],
    ['{"title": "only a title"}', false],
    ['A sentence about @article and more.', false],
  ])('%s', (text, record) => {
    expect(isRecord(text)).toBe(record);
  });
});

it('cites as the loaded packages do', () => {
  expect([citingCommand([]), citingCommand(['natbib']), citingCommand(['natbib', 'biblatex'])]).toEqual([
    '\\cite',
    '\\citep',
    '\\autocite',
  ]);
});
