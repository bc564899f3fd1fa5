import type { Note, OutlineLine, Person } from '../api/client';
import { sectionAt } from '../write/outline';

/** Which notes are shown. */
export const filters = {
  open: 'open',
  suggested: 'suggested',
  mine: 'mine',
  me: 'to me',
  settled: 'settled',
} as const;
export type NoteFilter = keyof typeof filters;

/** Whether a note is among those that are wanted. */
export function isWanted(note: Note, filter: NoteFilter, me: Person): boolean {
  if (filter === 'settled') return note.settledBy !== null;
  if (note.settledBy !== null) return false;
  if (filter === 'mine') return note.person?.id === me.id || note.replies.some((r) => r.person?.id === me.id);
  if (filter === 'suggested') return note.proposal !== null;
  return filter === 'open' || note.names.includes(me.id);
}

/** Whether a suggestion's words aren't what they were when it was made. */
export const isStale = (note: Note) => note.isGone || note.words !== note.instead;

/** The open suggestions that are decided together: those that were picked, or else all, or all of one person. */
export function decidedTogether(notes: readonly Note[], picked: ReadonlySet<number>, person: number): Note[] {
  const open = notes.filter((n) => n.proposal !== null && n.settledBy === null);
  // Whoever had some may have none by now, and a picked one may be decided by another.
  const chosen = open.filter((n) => picked.has(n.id));
  if (chosen.length > 0) return chosen;
  const own = open.filter((n) => n.person?.id === person);
  return own.length > 0 ? own : open;
}

/** What the text shows of an open suggestion; null: it is a note, or settled. */
export const suggestionOf = (note: Note) =>
  note.proposal === null || note.settledBy !== null
    ? null
    : {
        proposal: note.proposal,
        name: note.person?.name ?? 'Someone',
        colour: note.person?.colour ?? 'currentColor',
        isStale: isStale(note),
      };

/** Notes under the heading that they stand under. */
export interface NotedSection<T> {
  /** The heading's place in the structure; −1: before the first one, or nowhere any more. */
  section: number;
  notes: T[];
}

/** What stands at a place of a text. */
type Placed = Pick<Note, 'path' | 'line' | 'from'>;

/** Notes in the order of the manuscript, under its headings. */
export function bySections<T extends Placed>(notes: readonly T[], outline: readonly OutlineLine[]): NotedSection<T>[] {
  const placed = notes.map((note) => ({ note, section: note.path ? sectionAt(outline, note.path, note.line) : -1 }));
  // Those of one place stay in the order in which they were written.
  placed.sort((a, b) => a.section - b.section || a.note.from - b.note.from);
  const sections: NotedSection<T>[] = [];
  for (const { note, section } of placed) {
    const last = sections.at(-1);
    if (last?.section === section) last.notes.push(note);
    else sections.push({ section, notes: [note] });
  }
  return sections;
}

/** The words of a passage where there is little room. */
export const brief = (words: string, most = 90) => {
  const line = words.replace(/\s+/g, ' ').trim();
  return line.length > most ? `${line.slice(0, most).replace(/\s\S*$/, '')} …` : line;
};

/** What a note says in pieces: those that name someone, and the others. */
export function namePieces(text: string, people: readonly Person[]): { text: string; isName: boolean }[] {
  const names = people
    .flatMap((p) => [p.name, p.name.split(' ')[0]!])
    .sort((a, b) => b.length - a.length)
    .map((n) => n.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  if (names.length === 0) return [{ text, isName: false }];
  return text
    .split(new RegExp(`(@(?:${names.join('|')})(?![\\p{L}\\p{N}]))`, 'iu'))
    .map((piece, i) => ({ text: piece, isName: i % 2 === 1 }))
    .filter((p) => p.text);
}
