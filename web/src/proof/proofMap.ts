import type { ProofSheets } from '../api/client';
import { placed, placesOf, runs, textOf, unplaced, type Run, type SheetContent } from './sheet';

/** So far from the nearest words a point is beside them, in hundredths of a point. */
const Beside = 900;

/** A place in the source, in characters from the beginning of its file. */
export interface SourcePlace {
  file: string;
  offset: number;
}

/** The source of a point on a page. */
export interface PlaceFound extends SourcePlace {
  /** Whether there are no words at the point itself: it is the source of the nearest. */
  isBeside: boolean;
}

/** A rectangle on a sheet, in PDF points from its upper left corner. */
export interface PageSpot {
  sheet: number;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Of what was found on several pages, what is nearest in the source. */
export const nearest = <T extends { far: number }>(found: (T | null)[]): T | null =>
  found.reduce((a, b) => (b && (!a || b.far < a.far) ? b : a), null);

/** Shares of the size that a line's words reach above and below their baseline. */
const Ascent = 0.75;
const Descent = 0.25;

/** A word further behind what was found than this is another's, in characters. */
const Reach = 2000;

/** Leads from the pages of one proof to its sources, and back. Nothing has to be asked for: sheets and origins say it. */
export class ProofMap {
  private readonly origins: SourcePlace[] = [];
  /** Origins of each file in the order of their places. */
  private readonly byFile = new Map<string, number[]>();
  /** Sheets, from 0, on which each origin stands. */
  private readonly sheetsOf: number[][];

  constructor(readonly sheets: ProofSheets) {
    let before = 0;
    sheets.originSteps.forEach((step, i) => {
      const file = sheets.files[sheets.originFiles[i]!]!;
      before = i > 0 && sheets.originFiles[i] === sheets.originFiles[i - 1] ? before + step : step;
      this.origins.push({ file, offset: before });
      const known = this.byFile.get(file);
      if (known) known.push(i);
      else this.byFile.set(file, [i]);
    });
    this.sheetsOf = this.origins.map(() => []);
    sheets.entries.forEach((entry, sheet) => entry.origins.forEach((o) => this.sheetsOf[o]!.push(sheet)));
  }

  /** The source of the glyph nearest to a point of a sheet (from 1), in PDF points; null on an empty one. */
  sourceAt(sheet: number, content: SheetContent, x: number, y: number): PlaceFound | null {
    let best = Infinity;
    let found: { run: Run; along: number } | null = null;
    for (const candidate of runs(content)) {
      const { run, matrix, size } = candidate;
      const at = run[7] < 0 ? null : unplaced(matrix, x * 100, y * 100);
      if (!at) continue;
      const [dx, dy] = [at[0] - run[1], at[1] - run[2]];
      const across = Math.max(0, -dx, dx - run[6]);
      const off = Math.max(0, -Ascent * size - dy, dy - Descent * size);
      // A line's height counts for more than a word's distance along it.
      const distance = off * off * 16 + across * across;
      if (distance < best) {
        best = distance;
        found = { run: candidate, along: dx };
      }
    }
    const place = found && this.placeIn(sheet, content, found.run, found.along);
    return place && { ...place, isBeside: best > Beside * Beside };
  }

  /** On which sheets (from 0) the words of a place may stand. */
  candidates(file: string, offset: number): number[] {
    const all = this.byFile.get(file) ?? [];
    const next = all.findIndex((o) => this.origins[o]!.offset > offset);
    const last = next < 0 ? all.length - 1 : next - 1;
    // Commands make the words behind them: those of the origin after count too.
    const near = [...all.slice(Math.max(0, last), last + 2)];
    return [...new Set(near.flatMap((o) => this.sheetsOf[o]!))].sort((a, b) => a - b);
  }

  /** Where a place came to stand on a sheet (from 1), with how far in the source that is from it; null when nothing there is of its file. */
  spotOn(sheet: number, content: SheetContent, file: string, offset: number): (PageSpot & { far: number }) | null {
    let best = Infinity;
    let found: { run: Run; glyph: number } | null = null;
    for (const candidate of runs(content)) {
      const origin = this.originOf(sheet, candidate);
      if (origin?.file !== file) continue;
      placesOf(candidate.run).forEach((place, glyph) => {
        if (place === null) return;
        const at = origin.offset + place;
        // What comes after is nearer than what came before.
        const distance = at >= offset ? at - offset : (offset - at) * 3;
        if (distance < best) {
          best = distance;
          found = { run: candidate, glyph };
        }
      });
    }
    if (!found) return null;
    const { run, glyph } = found as { run: Run; glyph: number };
    const edges = edgesOf(content, run);
    return { ...spotOf(sheet, run, edges[glyph]!, edges[glyph + 1]!), far: best };
  }

  /** The word on a sheet (from 1) that ends at or after a place, nearest to it. */
  wordOn(sheet: number, content: SheetContent, file: string, offset: number): (PageSpot & { far: number }) | null {
    let best = Reach;
    let found: Run | null = null;
    for (const candidate of runs(content)) {
      const origin = this.originOf(sheet, candidate);
      const last = origin?.file === file ? placesOf(candidate.run).at(-1) : null;
      if (!origin || last === null || last === undefined) continue;
      const distance = origin.offset + last - offset;
      if (distance >= 0 && distance < best) {
        best = distance;
        found = candidate;
      }
    }
    return found && { ...spotOf(sheet, found, 0, found.run[6]), far: best };
  }

  private originOf(sheet: number, { run }: Run): SourcePlace | null {
    const origin = run[7] < 0 ? undefined : this.sheets.entries[sheet - 1]?.origins[run[7]];
    return origin === undefined ? null : this.origins[origin]!;
  }

  private placeIn(sheet: number, content: SheetContent, run: Run, along: number): SourcePlace | null {
    const origin = this.originOf(sheet, run);
    const places = placesOf(run.run);
    const edges = edgesOf(content, run);
    let glyph = 0;
    while (glyph + 1 < places.length && edges[glyph + 1]! <= along) glyph++;
    // A hyphen at a line's end came from nowhere: the letter beside it counts.
    const place = places[glyph] ?? places.slice(0, glyph).findLast((p) => p !== null) ?? places.find((p) => p !== null);
    return origin && place !== null && place !== undefined
      ? { file: origin.file, offset: origin.offset + place }
      : null;
  }
}

function spotOf(sheet: number, { run, matrix, size }: Run, from: number, to: number): PageSpot {
  const corners = [
    placed(matrix, run[1] + from, run[2] - Ascent * size),
    placed(matrix, run[1] + to, run[2] - Ascent * size),
    placed(matrix, run[1] + from, run[2] + Descent * size),
    placed(matrix, run[1] + to, run[2] + Descent * size),
  ];
  const xs = corners.map((c) => c[0] / 100);
  const ys = corners.map((c) => c[1] / 100);
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { sheet, x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}

/** Left edges of a row's glyphs from its beginning, and its right end. */
function edgesOf(content: SheetContent, { run, size }: Run): number[] {
  const [, , , style, glyphs] = run;
  const [font, , widening] = content.styles[style]!;
  const stretches = typeof glyphs === 'string' ? [0, glyphs] : glyphs;
  const edges: number[] = [];
  const context = ruler();
  context.font = `${Em}px "${font}"`;
  for (let i = 0; i < stretches.length; i += 2) {
    let at = stretches[i] as number;
    for (const glyph of stretches[i + 1] as string) {
      edges.push(at);
      at += (context.measureText(glyph).width / Em) * size * widening;
    }
  }
  return [...edges, run[6]];
}

/** Widths are measured at this size, in pixels. */
const Em = 1000;
let measuring: CanvasRenderingContext2D | null = null;

function ruler(): CanvasRenderingContext2D {
  measuring ??= document.createElement('canvas').getContext('2d');
  if (!measuring) throw new Error('This browser can’t measure text.');
  return measuring;
}

/** The words around the middle of a stretch of a page, for finding a source by key: the row nearest to a height, in PDF points. */
export function rowNearest(content: SheetContent, y: number): { x: number; y: number; off: number } | null {
  let best: { x: number; y: number; off: number } | null = null;
  for (const { run, matrix } of runs(content)) {
    if (run[7] < 0 || textOf(run).trim() === '') continue;
    const [px, py] = placed(matrix, run[1] + run[6] / 2, run[2]);
    const off = Math.abs(py / 100 - y);
    if (!best || off < best.off) best = { x: px / 100, y: py / 100, off };
  }
  return best;
}
