import { beforeAll, expect, test, vi } from 'vitest';
import { ProofMap } from '../src/proof/proofMap';
import { mayOpen, placesOf, runs, unplaced, type GlyphRun, type SheetContent } from '../src/proof/sheet';

// Every glyph is half the size wide.
beforeAll(() => {
  const context = { font: '', measureText: (text: string) => ({ width: 500 * text.length }) };
  vi.stubGlobal('document', { createElement: () => ({ getContext: () => context }) });
});

const word = (x: number, y: number, text: string, origin: number, offset = 0, steps?: (number | null)[]): GlyphRun => {
  const run: GlyphRun = [0, x, y, 0, text, text, text.length * 500, origin, offset];
  if (steps) run.push(steps);
  return run;
};

const content = (items: SheetContent['items']): SheetContent => ({
  items,
  styles: [['font', 10, 1, 0]],
  pictures: [],
  links: [],
  anchors: [],
});

const entry = (origins: number[]) => ({ digest: '', width: 600, height: 800, label: '1', origins });
const map = new ProofMap({
  entries: [entry([0, 1]), entry([1, 2])],
  files: ['a.tex', 'b.tex'],
  originFiles: [0, 0, 1],
  originSteps: [100, 50, 7],
  anchors: [],
});
const first = content([word(1000, 1000, 'hello', 0, 10), word(4000, 1000, 'there', 1)]);
const second = content([
  word(1000, 1000, 'rest', 0, 20),
  [5, 10000, 10000, 0, 1, -1, 0, [word(0, 0, 'turned', 1)]],
  word(1000, 3000, 'macro', 1, 30, [0, 0, 0, 0, null]),
]);

test('a point leads to the character whose glyph is nearest', () => {
  expect(map.sourceAt(1, first, 10, 10)).toEqual({ file: 'a.tex', offset: 110, isBeside: false });
  expect(map.sourceAt(1, first, 10 + 5 * 3.5, 9)).toMatchObject({ file: 'a.tex', offset: 113 });
  expect(map.sourceAt(1, first, 300, 10)).toMatchObject({ file: 'a.tex', offset: 154 });
  // A line counts for more than how far along it a word is.
  expect(map.sourceAt(2, second, 300, 29)).toMatchObject({ file: 'b.tex', offset: 37 });
  // In a picture or the margin there are no words: those are the nearest.
  expect(map.sourceAt(1, first, 10, 300)?.isBeside).toBe(true);
  expect(map.sourceAt(1, content([]), 10, 10)).toBeNull();
});

test('turned words are found where they stand', () => {
  // A quarter turn: what goes across goes down the page.
  const run = runs(second)[1]!;
  expect(unplaced(run.matrix, 10000, 10000 + 750)?.map(Math.round)).toEqual([750, 0]);
  expect(map.sourceAt(2, second, 100, 107.5)).toMatchObject({ file: 'b.tex', offset: 8 });
  const spot = map.spotOn(2, second, 'b.tex', 9)!;
  expect(spot.y).toBeCloseTo(110);
  expect(spot.height).toBeCloseTo(5);
});

test('a place is looked for on the pages of its paragraph and of the next', () => {
  expect(map.candidates('a.tex', 120)).toEqual([0, 1]);
  expect(map.candidates('b.tex', 20)).toEqual([1]);
  expect(map.candidates('a.tex', 3)).toEqual([0]);
  expect(map.candidates('c.tex', 3)).toEqual([]);
  expect(map.spotOn(1, first, 'a.tex', 112)).toMatchObject({ sheet: 1, x: 20, width: 5, far: 0 });
  expect(map.spotOn(1, first, 'b.tex', 112)).toBeNull();
  // What a command made counts from its call.
  expect(map.spotOn(2, second, 'b.tex', 36)).toMatchObject({ far: 1 });
});

test('what is to fix is marked under the word that ends at or after it', () => {
  expect(map.wordOn(1, first, 'a.tex', 112)).toMatchObject({ x: 10, width: 25, far: 2 });
  expect(map.wordOn(1, first, 'a.tex', 116)).toMatchObject({ x: 40 });
  expect(map.wordOn(1, first, 'a.tex', 160)).toBeNull();
});

test('places follow the text, unless they are said one by one', () => {
  expect(placesOf(word(0, 0, 'abc', 0, 5))).toEqual([5, 6, 7]);
  expect(placesOf([0, 0, 0, 0, 'ab', ['ffi', 'x'], 10, 0, 5])).toEqual([5, 8]);
  expect(placesOf(word(0, 0, 'ab', 0, 5, [0, null]))).toEqual([5, null]);
  expect(placesOf(word(0, 0, 'ab', -1))).toEqual([null, null]);
});

test.each([
  ['https://moor.example/a', true],
  ['HTTP://moor.example', true],
  ['mailto:ilse@moor.example', true],
  ['javascript:alert(1)', false],
  [' javascript:alert(1)', false],
  ['data:text/html,x', false],
  ['file:///etc/passwd', false],
  ['//moor.example', false],
])('a link to %s may be opened: %s', (address, may) => {
  expect(mayOpen(address)).toBe(may);
});
