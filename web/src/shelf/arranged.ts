import type { ShelfEntry } from '../api/client';

/** How the shelf may be ordered. */
export type Order = 'started' | 'title' | 'lately' | 'pages';

/** The manuscripts that fit some words, in an order. */
export function arranged(shelf: readonly ShelfEntry[], words: string, order: Order): ShelfEntry[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const found = shelf.filter((e) => {
    const text = `${e.title} ${e.description} ${e.people.map((p) => p.name).join(' ')}`.toLowerCase();
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
    default:
      return found;
  }
}
