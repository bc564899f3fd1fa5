import { expect, test } from 'vitest';
import type { ProofSheets, SheetEntry } from '../src/api/client';
import { AsWhole, Gap, heightOf, layOut, pageAt, sameSheet } from '../src/proof/pageLayout';

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
    lefts: [200, 0, 200],
    scales: [2, 2, 2],
    height: 4400 + 3 * Gap,
    width: 1600,
  });
  const fit = layOut(entries, 0, 620);
  expect(fit.scales).toEqual([1, 0.75, 1]);
  expect(fit.tops).toEqual([0, 800 + Gap, 1250 + 2 * Gap]);
});

test('pages that are in view as a whole take the height there is, and no more than the width', () => {
  const entries = [page('a'), page('b', 800, 600)];
  expect(layOut(entries, AsWhole, 620, 600).scales).toEqual([0.75, 0.75]);
  expect(layOut(entries, AsWhole, 620, 5000).scales).toEqual([1, 0.75]);
  expect(layOut(entries, AsWhole, 620, 10).scales).toEqual([0.3, 0.3]);
});

test('a place in the pages is found again when they are larger', () => {
  const [small, large] = [layOut(list('abc'), 1, 0), layOut(list('abc'), 2, 0)];
  for (const y of [0, 100, 813, 815, 1700, 2440]) expect(heightOf(small, pageAt(small, y))).toBeCloseTo(y);
  expect(Math.floor(pageAt(small, 1700))).toBe(Math.floor(pageAt(large, heightOf(large, pageAt(small, 1700)))));
  expect(pageAt(small, -50)).toBe(0);
  expect(pageAt(small, 1e6)).toBe(3);
  expect(pageAt(layOut([], 1, 0), 10)).toBe(0);
});

/** A proof whose pages are written as their origins: “ab c” has two on the first page and one on the second; a capital is a page's looks. */
const proof = (written: string, steps: number[]): ProofSheets => ({
  entries: written.split(' ').map((of) => ({
    ...page(of.replace(/[a-z]/g, '') || of),
    origins: [...of.replace(/[^a-z]/g, '')].map((o) => o.charCodeAt(0) - 97),
  })),
  files: ['main.tex'],
  originFiles: steps.map(() => 0),
  originSteps: steps,
  anchors: [],
});

test.each<[string, string, number[], string, number[], number, number]>([
  ['nothing changed', 'Aab Bc Cd', [1, 2, 3, 4], 'Aab Bc Cd', [1, 2, 3, 4], 1, 1],
  // The numbers at the foot change the looks of all pages behind.
  ['two pages came in before', 'Aab Bc Cd', [1, 2, 3, 4], 'Xa Ybc Zd Ue Vf', [1, 5, 6, 2, 3, 4], 2, 4],
  ['a page went before', 'Aa Bb Cc Dd', [1, 2, 3, 4], 'Aa Zb Yc', [1, 9, 4], 3, 2],
  ['words were typed on it', 'Aa Bb Cc', [1, 2, 3], 'Aa Zb Cc', [1, 2, 8], 1, 1],
  ['its paragraph begins a page later now', 'Aa Bb Cc', [1, 2, 3], 'Aa Xa Zb Yc', [1, 40, 3], 1, 2],
  [
    'a head is on all pages',
    'Aha Bhb Chc',
    [1, 2, 3, 4, 5, 6, 7, 8],
    'Xha Yha Zhb Uhc',
    [1, 20, 3, 4, 5, 6, 7, 8],
    2,
    3,
  ],
  ['it has no words', 'Aa E Bb', [1, 2], 'Xa Yb E Zc', [5, 1, 2], 1, 2],
  ['nothing is as it was', 'Aa Bb', [1, 2], 'X Y Z', [], 1, 1],
  ['most pages are gone', 'Aa Bb Cc', [1, 2, 3], 'X', [], 2, 0],
])('the page one looks at is found again: %s', (_, before, stepsBefore, after, stepsAfter, at, found) => {
  expect(sameSheet(proof(before, stepsBefore), proof(after, stepsAfter), at)).toBe(found);
});
