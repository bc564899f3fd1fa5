/**
 * A page as it is drawn (docs/sheets.md). Lengths are hundredths of a PDF point (1/72 in) from the upper left corner, Y downwards;
 * within a group they count from its origin.
 */
export interface SheetContent {
  items: Item[];
  /** Font, size in PDF points, factor of the widths, colour. */
  styles: [font: string, size: number, widening: number, colour: number][];
  pictures: [digest: string, format: 'png' | 'jpeg' | 'pdf'][];
  links: [x: number, y: number, width: number, height: number, target: string, isOutside: 0 | 1][];
  anchors: [name: string, y: number][];
}

/** Whether a link may be opened: what a manuscript says must never be run. */
export const mayOpen = (address: string) => /^(https?:\/\/|mailto:)/i.test(address);

export const Glyphs = 0;
export const Rule = 1;
export const PictureItem = 2;
export const Path = 3;
export const Shading = 4;
export const Group = 5;

/** A row of glyphs. Where they don't just follow one another each stretch has its own distance from the beginning. */
export type GlyphRun = [
  kind: typeof Glyphs,
  x: number,
  y: number,
  style: number,
  glyphs: string | (number | string)[],
  /** The characters, one a glyph; or those of each glyph. */
  text: string | string[],
  width: number,
  /** The origin that its places count from, of the sheet's; −1: it came from nowhere. */
  origin: number,
  offset?: number,
  /** The place of each glyph after the first one's, unless they follow the text. */
  steps?: (number | null)[],
];

export type RuleMark = [kind: typeof Rule, x: number, y: number, width: number, height: number, colour: number];

export type PictureMark = [
  kind: typeof PictureItem,
  x: number,
  y: number,
  picture: number,
  /** Turn in degrees, anticlockwise. */
  angle: number,
  left: number,
  top: number,
  width: number,
  height: number,
  shownWidth?: number,
  shownHeight?: number,
];

export type PathMark = [
  kind: typeof Path,
  x: number,
  y: number,
  operators: string,
  fillOpacity: number,
  strokeOpacity: number,
];

export type ShadingMark = [
  kind: typeof Shading,
  x: number,
  y: number,
  path: string,
  evenOdd: 0 | 1,
  opacity: number,
  matrix: [number, number, number, number, number, number],
  isRadial: 0 | 1,
  coordinates: number[],
  /** Place and colour of each stop, in turn. */
  stops: number[],
];

export type GroupMark = [
  kind: typeof Group,
  x: number,
  y: number,
  a: number,
  b: number,
  c: number,
  d: number,
  items: Item[],
];

export type Item = GlyphRun | RuleMark | PictureMark | PathMark | ShadingMark | GroupMark;

/** From an item's coordinates to the page's: x' = a x + c y + e, y' = b x + d y + f. */
export type Matrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

const identity: Matrix = [1, 0, 0, 1, 0, 0];

/** The matrix of what stands in a group. */
const within = (m: Matrix, [, x, y, a, b, c, d]: GroupMark): Matrix => [
  m[0] * a + m[2] * b,
  m[1] * a + m[3] * b,
  m[0] * c + m[2] * d,
  m[1] * c + m[3] * d,
  m[0] * x + m[2] * y + m[4],
  m[1] * x + m[3] * y + m[5],
];

export const placed = (m: Matrix, x: number, y: number): [number, number] => [
  m[0] * x + m[2] * y + m[4],
  m[1] * x + m[3] * y + m[5],
];

/** Where a place of the page is for what stands under a matrix; null when all of it is in one line. */
export function unplaced(m: Matrix, x: number, y: number): [number, number] | null {
  const area = m[0] * m[3] - m[1] * m[2];
  if (Math.abs(area) < 1e-9) return null;
  const [dx, dy] = [x - m[4], y - m[5]];
  return [(m[3] * dx - m[2] * dy) / area, (m[0] * dy - m[1] * dx) / area];
}

/** A row of glyphs with the matrix that it stands under. */
export interface Run {
  run: GlyphRun;
  matrix: Matrix;
  size: number;
}

const runsOf = new WeakMap<SheetContent, Run[]>();

/** All rows of glyphs in reading order, also those in groups. */
export function runs(sheet: SheetContent): Run[] {
  let known = runsOf.get(sheet);
  if (!known) {
    known = [];
    gather(sheet, sheet.items, identity, known);
    runsOf.set(sheet, known);
  }
  return known;
}

function gather(sheet: SheetContent, items: Item[], matrix: Matrix, into: Run[]) {
  for (const item of items) {
    if (item[0] === Glyphs) into.push({ run: item, matrix, size: sheet.styles[item[3]]![1] * 100 });
    else if (item[0] === Group) gather(sheet, item[7], within(matrix, item), into);
  }
}

/** The text of a row. */
export const textOf = ([, , , , , text]: GlyphRun) => (typeof text === 'string' ? text : text.join(''));

/** The place of each of a row's glyphs after its origin; null: it came from nowhere. */
export function placesOf(run: GlyphRun): (number | null)[] {
  const [, , , , , text, , origin, offset, steps] = run;
  const texts = typeof text === 'string' ? [...text] : text;
  if (origin < 0 || offset === undefined) return texts.map(() => null);
  if (steps) return steps.map((s) => (s === null ? null : offset + s));
  let at = offset;
  return texts.map((t) => {
    const here = at;
    at += t.length;
    return here;
  });
}

/** The link at a point of a page, in PDF points. */
export const linkAt = (content: SheetContent, x: number, y: number) =>
  content.links.find(
    ([left, top, width, height]) =>
      x * 100 >= left && x * 100 <= left + width && y * 100 >= top && y * 100 <= top + height,
  );
