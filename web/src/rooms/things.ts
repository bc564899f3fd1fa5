import type { Manuscript, Report, SourceRow } from '../api/client';
import { labels } from '../write/completion/offers';
import type { Action } from './actions';

/** Something that can be reached by its name. */
export interface Thing {
  kind: 'action' | 'room' | 'file' | 'section' | 'label' | 'source';
  name: string;
  /** What is said of it beside its name. */
  note: string;
  /** Its key on the keyboard. */
  key?: string;
  to: { run: () => void } | { address: string } | { file: string; line: number };
}

/** What kinds of things are called, in the order in which they are listed when they fit alike. */
export const kindNames: Readonly<Record<Thing['kind'], string>> = {
  action: 'Action',
  room: 'Room',
  file: 'File',
  section: 'Section',
  label: 'Label',
  source: 'Source',
};

const order = Object.keys(kindNames);

interface Known {
  manuscript: Pick<Manuscript, 'files'>;
  rooms: readonly { path: string; ribbon: string }[];
  report: Pick<Report, 'outline' | 'labels' | 'floats'> | undefined;
  sources: readonly SourceRow[];
  actions: readonly Action[];
}

/** All that a manuscript has by name. */
export function thingsOf({ manuscript, rooms, report, sources, actions }: Known): Thing[] {
  const things: Thing[] = actions.map((a) => ({
    kind: 'action',
    name: a.name,
    note: '',
    key: a.key,
    to: { run: a.run },
  }));
  for (const r of rooms) things.push({ kind: 'room', name: r.ribbon, note: '', to: { address: r.path } });
  for (const f of manuscript.files)
    if (f.isText) things.push({ kind: 'file', name: f.path, note: '', to: { file: f.path, line: 1 } });
  for (const o of report?.outline ?? [])
    if (o.file)
      things.push({
        kind: 'section',
        name: o.title,
        note: [o.number, o.page && `page ${o.page}`].filter(Boolean).join(', '),
        to: { file: o.file, line: o.line ?? 1 },
      });
  const named = new Map(labels(report ?? null).map((o) => [o.label, o.detail ?? '']));
  for (const l of report?.labels ?? [])
    if (l.file)
      things.push({
        kind: 'label',
        name: l.key,
        note: named.get(l.key) ?? '',
        to: { file: l.file, line: l.line ?? 1 },
      });
  for (const s of sources)
    if (s.isThere)
      things.push({
        kind: 'source',
        name: s.key,
        note: [s.authors, s.year, s.title].filter(Boolean).join(' · '),
        to: { address: `sources?key=${encodeURIComponent(s.key)}` },
      });
  return things;
}

/** How many are listed at most. */
export const MostListed = 60;

/** The things in whose names or notes all of the typed words stand: those whose name begins with them first. */
export function fitting(things: readonly Thing[], typed: string): Thing[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const scored: { thing: Thing; score: number }[] = [];
  for (const thing of things) {
    const name = thing.name.toLowerCase();
    const all = `${name} ${thing.note} ${kindNames[thing.kind]}`.toLowerCase();
    if (!words.every((w) => all.includes(w))) continue;
    const first = words[0] ?? '';
    const inName = words.filter((w) => name.includes(w)).length;
    const begins = first !== '' && name.startsWith(first);
    const beginsWord = first !== '' && new RegExp(`(^|[^a-z0-9])${escape(first)}`).test(name);
    const score = inName * 10 + (begins ? 8 : beginsWord ? 4 : 0) - order.indexOf(thing.kind);
    scored.push({ thing, score });
  }
  return scored
    .sort((a, b) => b.score - a.score || a.thing.name.length - b.thing.name.length)
    .slice(0, MostListed)
    .map((s) => s.thing);
}

const escape = (words: string) => words.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
