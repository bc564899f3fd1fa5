const format = new Intl.NumberFormat('en-GB');

/** A number with a thin space between thousands: 3 292. */
export const digits = (n: number) => format.format(n).replaceAll(',', '\u202f');

/** A count with its word: 1 page, 2 pages, 3 292 words. */
export const plural = (n: number, word: string) => `${digits(n)} ${word}${n === 1 ? '' : 's'}`;
