/** How a person wants texts to look, and which spelling. */
export interface Looks {
  /** The markup steps back behind the words. */
  isQuiet: boolean;
  /** The size of the source's type, in pixels. */
  size: number;
  /** Long lines go on below; otherwise they go on to the right. */
  wraps: boolean;
  /** The language where the manuscript says none; empty: spelling isn't looked at. */
  spelling: string;
}

export const usualLooks: Looks = { isQuiet: false, size: 13, wraps: true, spelling: 'en-gb' };

/** Sizes of the source's type that can be chosen, in pixels. */
export const sizes = [11, 12, 13, 14, 16, 18, 20] as const;

/** Languages of spelling. */
export const languages: Readonly<Record<string, string>> = {
  'en-gb': 'British English',
  'en-us': 'American English',
  de: 'German',
  fr: 'French',
  es: 'Spanish',
  it: 'Italian',
  nl: 'Dutch',
  pt: 'Portuguese',
};
