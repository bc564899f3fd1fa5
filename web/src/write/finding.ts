import type { Found, FoundFile, FoundPlace, SearchQuery } from '../api/client';

/** What one wants to find, and what is to take its place. */
export interface FindState {
  query: SearchQuery;
  with: string;
  /** In all files, or in the open one alone. */
  isWide: boolean;
}

export const beginning: FindState = {
  query: { words: '', matchesCase: false, wholeWords: false, isPattern: false, printedOnly: false },
  with: '',
  isWide: true,
};

/** A place with where it is. */
export interface ListedPlace {
  index: number;
  key: string;
  file: FoundFile;
  place: FoundPlace;
  /** As the server wants a place that was chosen. */
  at: { file: number; version: number; offset: number };
}

/** All places that are listed, in order. */
export function placesIn(found: Found | undefined): ListedPlace[] {
  let index = 0;
  return (found?.files ?? []).flatMap((file) =>
    file.places.map((place) => ({
      index: index++,
      key: `${file.file} ${place.offset}`,
      file,
      place,
      at: { file: file.file, version: file.version, offset: place.offset },
    })),
  );
}

/** The end of what stands before a place, from a word's beginning. */
export function endOf(text: string, longest: number): string {
  if (text.length <= longest) return text;
  const cut = text.slice(-longest);
  const space = cut.indexOf(' ');
  return `… ${space < 0 ? cut : cut.slice(space + 1)}`;
}

/** The beginning of what stands after a place, up to a word's end. */
export function beginningOf(text: string, longest: number): string {
  if (text.length <= longest) return text;
  const cut = text.slice(0, longest);
  const space = cut.lastIndexOf(' ');
  return `${space < 0 ? cut : cut.slice(0, space)} …`;
}
