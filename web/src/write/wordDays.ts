/** The words at the end of a day. */
export interface DayCount {
  /** As 2026-11-29. */
  day: string;
  words: number;
}

/** So many days are drawn. */
const Most = 42;

const dayOf = (at: Date) =>
  `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, '0')}-${String(at.getDate()).padStart(2, '0')}`;

/** The counts of the last weeks, today's by what there is now. A day on which nobody wrote has none. */
export function lastDays(days: readonly DayCount[], words: number, now: Date): DayCount[] {
  const today = dayOf(now);
  return [...days.filter((d) => d.day < today), { day: today, words }].slice(-Most);
}

/** The points of a line through counts, each at its day: as an SVG polyline takes them. */
export function lineThrough(days: readonly DayCount[], wide: number, high: number): string {
  const at = days.map((d) => Date.parse(d.day));
  const [first, last] = [at[0]!, at.at(-1)!];
  const counts = days.map((d) => d.words);
  const [least, most] = [Math.min(...counts), Math.max(...counts)];
  const margin = 2;
  return days
    .map((d, i) => {
      const x = margin + ((wide - 2 * margin) * (at[i]! - first)) / Math.max(1, last - first);
      const y = high - margin - ((high - 2 * margin) * (d.words - least)) / Math.max(1, most - least);
      return `${x.toFixed(1)},${y.toFixed(1)}`;
    })
    .join(' ');
}
