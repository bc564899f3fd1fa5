import type { ProofSheets, SheetEntry } from '../api/client';

/** The space between pages, in pixels. */
export const Gap = 14;

/** Where each page stands, one below the other, in pixels. */
export interface PageLayout {
  tops: number[];
  /** How far each is from the left, in pixels; of pages one below the other it follows from their widths. */
  lefts: number[];
  /** Pixels a PDF point, of each page: one that is wider is drawn smaller where pages take the leaf's width. */
  scales: number[];
  height: number;
  width: number;
}

const Smallest = 0.3;

/** In steps of a twentieth, so that a small change of the leaf doesn't draw all pages anew. */
const fitted = (room: number, width: number) => Math.max(Smallest, Math.floor((room / width) * 20) / 20);

/** Pages as wide as the leaf, and pages that are in view as a whole: instead of pixels a point. */
export const AsWide = 0;
export const AsWhole = -1;

/** Lays out pages one below the other. `zoom` is pixels a point, or how each takes the room there is: so wide, and so high. */
export function layOut(entries: SheetEntry[], zoom: number, room: number, tall = Infinity): PageLayout {
  const layout: PageLayout = { tops: [], lefts: [], scales: [], height: 0, width: 0 };
  for (const { width, height } of entries) {
    const scale = scaleOf(width, height, zoom, room, tall);
    layout.tops.push(layout.height);
    layout.scales.push(scale);
    layout.height += height * scale + Gap;
    layout.width = Math.max(layout.width, width * scale);
  }
  layout.lefts = entries.map(({ width }, i) => (layout.width - width * layout.scales[i]!) / 2);
  return layout;
}

function scaleOf(width: number, height: number, zoom: number, room: number, tall: number): number {
  if (zoom > 0) return zoom;
  const wide = fitted(room, width);
  return zoom === AsWhole ? Math.min(wide, fitted(tall, height)) : wide;
}

/** The space between facing pages, in pixels. */
const Fold = 2;

/** Lays out pages as they face each other in print: the first alone to the right, then two and two. */
export function layOutFacing(entries: SheetEntry[], zoom: number, room: number, tall = Infinity): PageLayout {
  const layout: PageLayout = { tops: [], lefts: [], scales: [], height: 0, width: 0 };
  const scales = entries.map(({ width, height }) => scaleOf(width, height, zoom, (room - Fold) / 2, tall));
  const wide = Math.max(0, ...entries.map(({ width }, i) => width * scales[i]!));
  for (let i = 0; i < entries.length; i += i === 0 ? 1 : 2) {
    const row = i === 0 ? [0] : [i, i + 1].filter((page) => page < entries.length);
    for (const page of row) {
      layout.tops.push(layout.height);
      const isRight = page % 2 === 0;
      layout.lefts.push(isRight ? wide + Fold : wide - entries[page]!.width * scales[page]!);
    }
    layout.height += Math.max(...row.map((page) => entries[page]!.height * scales[page]!)) + Gap;
  }
  return { ...layout, scales, width: 2 * wide + Fold };
}

/** Where the row of pages below a page begins. */
const nextTop = ({ tops, height }: PageLayout, page: number) =>
  tops.slice(page + 1).find((top) => top > tops[page]!) ?? height;

/** The page (from 0) at a height, with how far into it that is, as a share; within the pages there are. */
export function pageAt(layout: PageLayout, y: number): number {
  const { tops } = layout;
  if (tops.length === 0) return 0;
  const next = tops.findIndex((top) => top > y);
  const last = next < 0 ? tops.length - 1 : Math.max(0, next - 1);
  // Of two that face each other the left one counts.
  const page = tops.indexOf(tops[last]!);
  const end = nextTop(layout, page);
  return page + Math.min(1, Math.max(0, (y - tops[page]!) / (end - tops[page]!)));
}

/** The height of a place that pageAt gave. */
export function heightOf(layout: PageLayout, place: number): number {
  const { tops } = layout;
  if (tops.length === 0) return 0;
  const page = Math.min(tops.length - 1, Math.floor(place));
  const end = nextTop(layout, page);
  return tops[page]! + Math.min(1, place - page) * (end - tops[page]!);
}

/**
 * Where a page (from 0) of one proof is in another: by its digest, or by the words that stand on no other page, wherever they went, so
 * that pages that come in or go before it don't move what one looks at. Of a page without words its neighbours tell.
 */
export function sameSheet(before: ProofSheets, after: ProofSheets, page: number): number {
  const carried = carrier(before.originSteps, after.originSteps);
  const clamp = (at: number) => Math.min(after.entries.length - 1, Math.max(0, at));
  for (let far = 0; far < before.entries.length; far++) {
    for (const neighbour of far === 0 ? [page] : [page - far, page + far]) {
      const entry = before.entries[neighbour];
      if (!entry) continue;
      const alike = after.entries.flatMap((e, i) => (e.digest === entry.digest ? [i] : []));
      if (alike.length === 1) return clamp(alike[0]! + page - neighbour);
      const found = sheetWith(after, ownOrigins(before, neighbour).map(carried));
      if (found !== null) return clamp(found + page - neighbour);
    }
  }
  return clamp(page);
}

/** The origins of a page that are on no other: a running head's are on many. */
function ownOrigins({ entries }: ProofSheets, page: number): number[] {
  const others = new Set([...(entries[page - 1]?.origins ?? []), ...(entries[page + 1]?.origins ?? [])]);
  return entries[page]!.origins.filter((o) => !others.has(o));
}

/** The page on which most of some origins stand, the first of several; null when none has any. */
function sheetWith({ entries }: ProofSheets, origins: number[]): number | null {
  let most = 0;
  let found = null;
  entries.forEach((entry, i) => {
    const here = origins.filter((o) => entry.origins.includes(o)).length;
    if (here > most) [most, found] = [here, i];
  });
  return found;
}

/** From the origins of one proof to those of another. An edit changes the steps where it is: those before and behind it are the same. */
function carrier(before: number[], after: number[]): (origin: number) => number {
  const shorter = Math.min(before.length, after.length);
  let first = 0;
  while (first < shorter && before[first] === after[first]) first++;
  let last = 0;
  while (last < shorter - first && before.at(-1 - last) === after.at(-1 - last)) last++;
  // The step of what stands right behind an edit has changed, and it hasn't.
  return (origin) => (origin >= before.length - last - 1 ? origin + after.length - before.length : origin);
}
