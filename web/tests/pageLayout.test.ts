import { expect, test } from 'vitest';
import type { SheetEntry } from '../src/api/client';
import { Gap, heightOf, layOut, pageAt, sameSheet } from '../src/proof/pageLayout';

const page = (digest: string, width = 600, height = 800): SheetEntry => ({
  digest,
  width,
  height,
  label: '1',
  origins: [],
});
const list = (digests: string) => [...digests].map((d) => page(d));

test('each page has its own shape, and at “fit” each takes the width there is', () => {
  const entries = [page('a'), page('b', 800, 600), page('c')];
  expect(layOut(entries, 2, 300)).toEqual({
    tops: [0, 1600 + Gap, 2800 + 2 * Gap],
    scales: [2, 2, 2],
    height: 4400 + 3 * Gap,
    width: 1600,
  });
  const fit = layOut(entries, 0, 620);
  expect(fit.scales).toEqual([1, 0.75, 1]);
  expect(fit.tops).toEqual([0, 800 + Gap, 1250 + 2 * Gap]);
});

test('a place in the pages is found again when they are larger', () => {
  const [small, large] = [layOut(list('abc'), 1, 0), layOut(list('abc'), 2, 0)];
  for (const y of [0, 100, 813, 815, 1700, 2440]) expect(heightOf(small, pageAt(small, y))).toBeCloseTo(y);
  expect(Math.floor(pageAt(small, 1700))).toBe(Math.floor(pageAt(large, heightOf(large, pageAt(small, 1700)))));
  expect(pageAt(small, -50)).toBe(0);
  expect(pageAt(small, 1e6)).toBe(3);
  expect(pageAt(layOut([], 1, 0), 10)).toBe(0);
});

test.each([
  ['abcd', 'abcd', 2, 2],
  // Pages came in, or went, before it.
  ['abcd', 'axybcd', 2, 4],
  ['abcd', 'cd', 2, 0],
  // It changed itself, and pages came in before it.
  ['abcd', 'axybCd', 2, 4],
  ['abcd', 'xyaBCD', 2, 4],
  // Nothing is the same.
  ['abcd', 'wxyz', 2, 2],
  ['abcd', 'w', 3, 0],
  // Empty pages are alike: the nearest is meant.
  ['aebece', 'xaebece', 3, 4],
])('in %s and then %s, page %i is page %i', (before, after, at, found) => {
  expect(sameSheet(list(before), list(after), at)).toBe(found);
});
