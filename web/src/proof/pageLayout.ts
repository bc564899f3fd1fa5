import type { SheetEntry } from '../api/client';

/** The space between pages, in pixels. */
export const Gap = 14;

/** Where each page stands, one below the other, in pixels. */
export interface PageLayout {
  tops: number[];
  /** Pixels a PDF point, of each page: one that is wider is drawn smaller where pages take the leaf's width. */
  scales: number[];
  height: number;
  width: number;
}

const Smallest = 0.3;

/** In steps of a twentieth, so that a small change of the leaf doesn't draw all pages anew. */
const fitted = (room: number, width: number) => Math.max(Smallest, Math.floor((room / width) * 20) / 20);

/** Lays out pages. `zoom` is pixels a point; at 0 each takes the room there is. */
export function layOut(entries: SheetEntry[], zoom: number, room: number): PageLayout {
  const layout: PageLayout = { tops: [], scales: [], height: 0, width: 0 };
  for (const { width, height } of entries) {
    const scale = zoom || fitted(room, width);
    layout.tops.push(layout.height);
    layout.scales.push(scale);
    layout.height += height * scale + Gap;
    layout.width = Math.max(layout.width, width * scale);
  }
  return layout;
}

/** The page (from 0) at a height, with how far into it that is, as a share; within the pages there are. */
export function pageAt({ tops, height }: PageLayout, y: number): number {
  if (tops.length === 0) return 0;
  const next = tops.findIndex((top) => top > y);
  const page = next < 0 ? tops.length - 1 : Math.max(0, next - 1);
  const end = tops[page + 1] ?? height;
  return page + Math.min(1, Math.max(0, (y - tops[page]!) / (end - tops[page]!)));
}

/** The height of a place that pageAt gave. */
export function heightOf({ tops, height }: PageLayout, place: number): number {
  if (tops.length === 0) return 0;
  const page = Math.min(tops.length - 1, Math.floor(place));
  const end = tops[page + 1] ?? height;
  return tops[page]! + Math.min(1, place - page) * (end - tops[page]!);
}

/**
 * Where a page (from 0) of one list stands in another: by its own digest, or by the nearest neighbour that is in both, so that pages
 * that come in or go before it don't move what one looks at.
 */
export function sameSheet(before: SheetEntry[], after: SheetEntry[], page: number): number {
  const known = new Map<string, number[]>();
  after.forEach(({ digest }, i) => {
    const at = known.get(digest);
    if (at) at.push(i);
    else known.set(digest, [i]);
  });
  // Pages that are alike (empty ones) tell least.
  for (const isSure of [true, false]) {
    for (let far = 0; far < before.length; far++) {
      for (const neighbour of far === 0 ? [page] : [page - far, page + far]) {
        const digest = before[neighbour]?.digest;
        const found = digest === undefined ? undefined : known.get(digest);
        if (!found || (isSure && found.length > 1)) continue;
        const nearest = found.reduce((a, b) => (Math.abs(b - neighbour) < Math.abs(a - neighbour) ? b : a));
        return Math.min(after.length - 1, Math.max(0, nearest + page - neighbour));
      }
    }
  }
  return Math.min(after.length - 1, page);
}
