import { describe, expect, test } from 'vitest';
import type { OutlineLine } from '../src/api/client';
import { findOn, pageWords } from '../src/proof/proofSearch';
import { layOutFacing, heightOf, pageAt, Gap } from '../src/proof/pageLayout';
import { Glyphs, type SheetContent } from '../src/proof/sheet';
import { endOf, isIdle, placesAfter, stepped } from '../src/write/sectionMove';

const entry = (level: number, isTyped = true) =>
  ({ level, file: isTyped ? 'a.tex' : null, offset: isTyped ? 0 : null }) as OutlineLine;
/** Contents, 1, 1.1, 1.2, 2, sources. */
const entries = [entry(0, false), entry(0), entry(1), entry(1), entry(0), entry(0, false)];

describe('moving a section', () => {
  test('a section ends where the next of its level or above begins', () => {
    expect(entries.map((_, i) => endOf(entries, i))).toEqual([1, 4, 3, 4, 5, 6]);
  });

  test('entries change places as the text will', () => {
    const places = (section: number, before: number) => placesAfter(entries, { section, before, shift: 0 });
    expect(places(1, 5)).toEqual([0, 2, 3, 4, 1, 5]);
    expect(places(4, 1)).toEqual([0, 2, 3, 4, 1, 5]);
    expect(places(3, 2)).toEqual([0, 1, 3, 2, 4, 5]);
    expect(places(1, 3)).toEqual([0, 1, 2, 3, 4, 5]);
    expect(places(2, 6)).toEqual([0, 1, 5, 2, 3, 4]);
  });

  test('what stays where it is changes nothing, unless its level does', () => {
    expect(isIdle(entries, { section: 1, before: 4, shift: 0 })).toBe(true);
    expect(isIdle(entries, { section: 1, before: 4, shift: 1 })).toBe(false);
    expect(isIdle(entries, { section: 1, before: 5, shift: 0 })).toBe(false);
  });

  test('by key it goes over its neighbours, and not above what nobody typed', () => {
    const begin = { section: 3, before: 3, shift: 0 };
    expect(stepped(entries, begin, 'ArrowUp')).toEqual({ ...begin, before: 2 });
    expect(stepped(entries, { ...begin, before: 1 }, 'ArrowUp')).toEqual({ ...begin, before: 1 });
    expect(stepped(entries, begin, 'ArrowDown')).toEqual({ ...begin, before: 5 });
    expect(stepped(entries, { ...begin, before: 6 }, 'ArrowDown')).toEqual({ ...begin, before: 6 });
    expect(stepped(entries, begin, 'ArrowLeft').shift).toBe(-1);
    expect(stepped(entries, begin, 'ArrowRight').shift).toBe(1);
    expect(stepped(entries, begin, 'Enter')).toBe(begin);
  });
});

/** A page of rows: where each begins, in hundredths of a point, at size 10 and half that a letter. */
const pageOf = (...rows: [x: number, y: number, text: string][]): SheetContent => ({
  items: rows.map(([x, y, text]) => [Glyphs, x, y, 0, '', text, text.length * 500, -1]),
  styles: [['f', 10, 1, 0]],
  pictures: [],
  links: [],
  anchors: [],
});

describe('finding in the proof', () => {
  const page = pageOf([1000, 2000, 'The wall'], [5600, 2000, 'and its wal-'], [1000, 3200, 'ler: it’s his wall']);

  test('words are read over rows, and those that are divided are whole', () => {
    expect(pageWords(page).text).toBe('The wall and its waller: it’s his wall');
  });

  test('a place has the stretches of its lines', () => {
    expect(findOn(3, page, 'WALL')).toHaveLength(3);
    const [divided] = findOn(3, page, 'its  waller');
    expect(divided!.map(({ sheet, x, width }) => [sheet, x, width])).toEqual([
      [3, 76, 35],
      [3, 10, 15],
    ]);
    expect(findOn(3, page, "it's his")).toHaveLength(1);
    expect(findOn(3, page, ' ')).toEqual([]);
    expect(findOn(3, page, 'nowhere')).toEqual([]);
  });
});

test('facing pages: the first alone to the right, then two and two, and each place is found again', () => {
  const sheet = { digest: '', width: 600, height: 800, label: '1', origins: [] };
  const layout = layOutFacing([sheet, sheet, sheet, sheet], 1, 0);
  expect(layout.tops).toEqual([0, 800 + Gap, 800 + Gap, 2 * (800 + Gap)]);
  expect(layout.lefts).toEqual([602, 0, 602, 0]);
  expect(layout.width).toBe(1202);
  expect(Math.floor(pageAt(layout, 1000))).toBe(1);
  for (const y of [0, 300, 815, 1200, 1700]) expect(heightOf(layout, pageAt(layout, y))).toBeCloseTo(y);
});
