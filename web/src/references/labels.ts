import type { LabelEntry, OutlineLine } from '../api/client';
import { sectionAt } from '../write/outline';

/** Kinds of things that carry labels, as they are shown together. */
const kinds: [string, (kind: string, label: LabelEntry) => boolean][] = [
  ['chapters', (k) => k === 'chapter' || k === 'part' || k === 'appendix'],
  ['sections', (k) => /section|paragraph/.test(k)],
  ['figures', (k) => k.includes('figure')],
  ['tables', (k) => k.includes('table')],
  ['equations', (k) => k === 'equation'],
  ['theorems', (_, l) => l.statement !== null],
  ['listings', (k) => k.includes('listing') || k === 'lstlisting' || k === 'algorithm'],
];

/** A choice of labels, with how many there are. */
export interface Shown {
  name: string;
  fits: (label: LabelEntry) => boolean;
  tone: 'plain' | 'fix' | 'check';
}

/** The groups that labels are shown by: by what they name, and by what is odd. */
export const groups: readonly Shown[] = [
  { name: 'labels', fits: (l) => l.kind !== 'missing', tone: 'plain' },
  ...kinds.map(([name, is]): Shown => ({ name, fits: (l) => is(l.kind, l), tone: 'plain' })),
  {
    name: 'others',
    fits: (l) => l.kind !== 'missing' && !kinds.some(([, is]) => is(l.kind, l)),
    tone: 'plain',
  },
  { name: 'unresolved', fits: (l) => l.kind === 'missing', tone: 'fix' },
  { name: 'doubled', fits: (l) => l.remark === 'doubled-label', tone: 'check' },
  { name: 'before its caption', fits: (l) => l.remark === 'label-before-caption', tone: 'check' },
  { name: 'never used', fits: isUnused, tone: 'check' },
];

/** Whether nothing refers to a label. */
export function isUnused(l: LabelEntry) {
  return l.kind !== 'missing' && l.uses.length === 0;
}

/** Whether all words are found in what is known of a label. */
export function isFound(l: LabelEntry, words: string) {
  const text = `${l.key} ${l.title} ${l.number ?? ''} ${l.kind} ${l.source ?? ''}`.toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w));
}

/** What a label names, in words for a list. */
export const nameOf = (l: LabelEntry) =>
  l.title ||
  (l.kind === 'equation' && l.source
    ? bodyOf(l.source)
    : l.kind === 'missing'
      ? 'defined nowhere'
      : (l.statement ?? l.kind));

/** A formula's source without what begins and ends it. */
export const bodyOf = (source: string) =>
  source
    .replace(/\\(?:begin|end)\{[^}]*\}/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** A chapter, or whatever stands highest: it leans on others by its references. */
export interface Leaning {
  chapters: { index: number; number: string; title: string }[];
  /** How often one refers to another, by their places in `chapters`. */
  arcs: { from: number; to: number; count: number }[];
}

/** Which chapter leans on which. */
export function leaning(labels: readonly LabelEntry[], outline: readonly OutlineLine[]): Leaning {
  const typed = outline.filter((o) => o.file !== null);
  const top = Math.min(...typed.filter((o) => o.level >= 0).map((o) => o.level));
  const chapters = outline
    .map((o, index) => ({ index, number: o.number ?? '', title: o.title, level: o.level, file: o.file }))
    .filter((o) => o.level === top && o.file !== null && o.number !== '');
  const chapterOf = (file: string | null, line: number | null) => {
    const at = sectionAt(outline, file ?? undefined, line ?? 0);
    return at < 0 ? -1 : chapters.findLastIndex((c) => c.index <= at);
  };
  const counts = new Map<string, { from: number; to: number; count: number }>();
  for (const label of labels) {
    const to = chapterOf(label.file, label.line);
    if (to < 0) continue;
    for (const use of label.uses) {
      const from = chapterOf(use.file, use.line);
      if (from < 0 || from === to) continue;
      const known = counts.get(`${from} ${to}`);
      if (known) known.count++;
      else counts.set(`${from} ${to}`, { from, to, count: 1 });
    }
  }
  return { chapters, arcs: [...counts.values()] };
}
