import type { ComparedPiece, HistoryEvent, PassageChange, Pin, PrintComparison } from '../api/client';
import { plural } from '../ui/words';

/** What an event is, in words: what was done, and what to. */
export function told(event: HistoryEvent): { what: string; to: string } {
  const { kind, places, paths, says } = event;
  const where = places.map((p) => `${p.number ? `${p.number} ` : ''}${p.title}`).join(' · ');
  const some = (names: readonly string[]) =>
    names.length <= 3 ? names.join(', ') : `${names.slice(0, 2).join(', ')} and ${names.length - 2} more`;
  switch (kind) {
    case 'text':
      return { what: /\.bib$/i.test(paths[0] ?? '') ? 'Sources' : '', to: where || some(paths) };
    case 'act':
      return { what: says.join('; '), to: where || some(paths) };
    case 'create':
      return { what: 'added', to: some(says) };
    case 'back':
      return { what: 'brought back', to: some(says) };
    case 'rename':
      return { what: 'renamed', to: some(says) };
    case 'delete':
      return { what: 'deleted', to: some(says) };
    case 'upload':
      return { what: 'replaced', to: some(says) };
    default:
      return { what: kind === 'people' ? '' : 'set', to: some(says) };
  }
}

/** The words that came and went, and the revisions. */
export const counted = ({ wordsIn, wordsOut, fromRevision, toRevision, paths }: HistoryEvent): string =>
  [
    wordsIn > 0 && wordsOut > 0
      ? `+${plural(wordsIn, 'word')}, −${wordsOut}`
      : wordsIn > 0
        ? `+${plural(wordsIn, 'word')}`
        : wordsOut > 0
          ? `−${plural(wordsOut, 'word')}`
          : '',
    paths.length === 1 ? paths[0] : paths.length > 1 ? plural(paths.length, 'file') : '',
    fromRevision === toRevision ? `rev ${fromRevision}` : `rev ${fromRevision}–${toRevision}`,
  ]
    .filter(Boolean)
    .join(' · ');

/** That words came with an event, went, or were moved. */
export const traced = ({ came, went }: { came: number; went: number }): string => {
  const times = (count: number) => (count > 1 ? `, ${count} times` : '');
  if (came > 0 && went > 0) return 'they were moved';
  return came > 0 ? `they came${times(came)}` : `they went${times(went)}`;
};

/** Whether words that were looked for are there, in a line. */
export const summed = (now: number, events: readonly { came: number; went: number }[]): string => {
  if (events.length === 0) return 'These words never stood in a text.';
  return now === 0 ? 'Not there any more.' : now === 1 ? 'There now, in one place.' : `There now, in ${now} places.`;
};

/** A line of the list: an event, or a pin at its moment. */
export type Line = { event: HistoryEvent; pin?: undefined } | { pin: Pin; event?: undefined };

/** Events and pins by days, the newest first. A pin stands above the event that it names, on its day. */
export function byDays(events: readonly HistoryEvent[], pins: readonly Pin[]): { day: string; lines: Line[] }[] {
  const waiting = [...pins].sort((a, b) => b.revision - a.revision || b.id - a.id);
  const days: { day: string; lines: Line[] }[] = [];
  for (const event of events) {
    const day = dayOf(event.end);
    if (days.at(-1)?.day !== day) days.push({ day, lines: [] });
    const { lines } = days.at(-1)!;
    while (waiting.length > 0 && waiting[0]!.revision >= event.toRevision) lines.push({ pin: waiting.shift()! });
    lines.push({ event });
  }
  return days;
}

const dayOf = (moment: string) => {
  const at = new Date(moment);
  return `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, '0')}-${String(at.getDate()).padStart(2, '0')}`;
};

/** The passages of a file; the first of each section with all of its section. */
export function sectionsOf(passages: readonly PassageChange[]): { change: PassageChange; section: PassageChange[] }[] {
  const name = ({ place }: PassageChange) => `${place?.number} ${place?.title}`;
  return passages.map((change, i) => {
    const isFirst = passages.findIndex((p) => name(p) === name(change)) === i;
    return { change, section: isFirst ? passages.filter((p) => name(p) === name(change)) : [] };
  });
}

/** So much of what is the same stands around what isn’t, in signs. */
const Around = 90;

/** Pieces with what is the same between two changes cut short. */
export const shortened = (pieces: readonly ComparedPiece[]): ComparedPiece[] =>
  pieces.map((piece, i) => {
    if (piece.kind !== 'same') return piece;
    const [isFirst, isLast] = [i === 0, i === pieces.length - 1];
    const { text } = piece;
    if (isFirst && text.length > Around) return { ...piece, text: `… ${text.slice(-Around).replace(/^\S*\s/, '')}` };
    if (isLast && text.length > Around) return { ...piece, text: `${text.slice(0, Around).replace(/\s\S*$/, '')} …` };
    if (!isFirst && !isLast && text.length > 2 * Around)
      return { ...piece, text: `${text.slice(0, Around)} … ${text.slice(-Around)}` };
    return piece;
  });

type Change = PrintComparison['changes'][number];

/** So few words are a cell of a table, or a number. */
const Few = 3;

/** Changes in print, with the many small ones that stand beside each other, such as the cells of a table, as one. */
export function together(changes: readonly Change[]): Change[] {
  const list: Change[] = [];
  let wasSmall = false;
  for (const change of changes) {
    const isSmall = change.words <= Few;
    const last = list.at(-1);
    if (last && isSmall && wasSmall && last.kind === change.kind && last.sheet === change.sheet)
      list[list.length - 1] = { ...last, text: `${last.text} · ${change.text}`, words: last.words + change.words };
    else list.push(change);
    wasSmall = isSmall;
  }
  return list;
}
