import type { ShelfEntry } from '../api/client';

/** How the shelf may be ordered. */
export type Order = 'started' | 'title' | 'lately' | 'pages' | 'due';

/** The manuscripts that fit some words, in an order. */
export function arranged(shelf: readonly ShelfEntry[], words: string, order: Order): ShelfEntry[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const found = shelf.filter((e) => {
    const text = `${e.title} ${e.description} ${e.mark} ${e.people.map((p) => p.name).join(' ')}`.toLowerCase();
    return wanted.every((w) => text.includes(w));
  });
  const newest = (e: ShelfEntry) => e.news.items.reduce((last, i) => (i.until > last ? i.until : last), '');
  switch (order) {
    case 'title':
      return found.sort((a, b) => a.title.localeCompare(b.title));
    case 'lately':
      return found.sort((a, b) => newest(b).localeCompare(newest(a)));
    case 'pages':
      return found.sort((a, b) => (b.pages ?? 0) - (a.pages ?? 0));
    case 'due':
      return found.sort((a, b) => (a.deadline ?? '9').localeCompare(b.deadline ?? '9'));
    default:
      return found;
  }
}

const Day = 24 * 60 * 60 * 1000;

/** How many days there are from one day to another, both as dates. */
export const daysUntil = (deadline: string, today: string) =>
  Math.round((Date.parse(`${deadline}T00:00Z`) - Date.parse(`${today}T00:00Z`)) / Day);

/** A day of the calendar here, as a date. */
export const dateOf = (now: Date) =>
  `${now.getFullYear()}-${String(now.getMonth() + 1).padStart(2, '0')}-${String(now.getDate()).padStart(2, '0')}`;

/** How far away a deadline is, in words. */
export function dueIn(days: number): string {
  if (days < 0) return days === -1 ? 'was due yesterday' : `was due ${-days} days ago`;
  return days === 0 ? 'due today' : days === 1 ? 'due tomorrow' : `due in ${days} days`;
}

/** So near a deadline waits for you, in days. */
export const Near = 14;
