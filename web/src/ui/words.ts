/** A count with its word: 1 page, 2 pages, 3 292 words. */
export const plural = (n: number, word: string) =>
  `${n.toLocaleString('en-GB').replaceAll(',', '\u202f')} ${word}${n === 1 ? '' : 's'}`;
