import type { Finding, ManuscriptFile } from '../api/client';
import type { Present } from '../live/live';
import { nearest, type PageSpot, type ProofMap } from './proofMap';
import type { SheetContent } from './sheet';
import type { SheetStore } from './sheetStore';

/** A page (from 1) on which something is looked for. */
export interface Looked {
  map: ProofMap;
  sheets: SheetStore;
  sheet: number;
  content: SheetContent;
}

/** Someone at a height of a page, in PDF points. */
export interface Note {
  key: string;
  colour: string;
  name: string;
  y: number;
}

/**
 * The spot of a place of the source, if it is on this page: of the pages that it may be on, the one with the nearest words has it.
 * Of pages that aren't here nothing is known.
 */
function spotHere(
  { map, sheets, sheet, content }: Looked,
  find: 'wordOn' | 'spotOn',
  file: string,
  offset: number,
): PageSpot | null {
  const candidates = map.candidates(file, offset);
  if (!candidates.includes(sheet - 1)) return null;
  const found = candidates.map((page) => {
    const of = page + 1 === sheet ? content : sheets.find(map.sheets.entries[page]!.digest);
    return of ? map[find](page + 1, of, file, offset) : null;
  });
  const best = nearest(found);
  return best?.sheet === sheet ? best : null;
}

/** The words on a page where something is to fix. */
export const marksOn = (page: Looked, findings: readonly Finding[]): PageSpot[] =>
  findings.flatMap((f) => {
    if (f.kind !== 'fix' || f.file === null || f.offset === null) return [];
    return spotHere(page, 'wordOn', f.file, f.offset) ?? [];
  });

/** Where on a page the others are. */
export const notesOn = (page: Looked, present: Present[], files: ManuscriptFile[]): Note[] =>
  present.flatMap(({ seat, person, place }) => {
    const path = files.find((f) => f.id === place?.file)?.path;
    const spot = place && path !== undefined && spotHere(page, 'spotOn', path, place.head);
    return spot ? [{ key: seat, colour: person.colour, name: person.name.split(' ')[0]!, y: spot.y }] : [];
  });
