import type { CheckGroup, HandInCheck } from '../api/client';
import { plural } from '../ui/words';

export type CheckState = HandInCheck['state'];

/** How a state is said and shown: never by its colour alone. */
export const states: Record<CheckState, { sign: string; says: string; tone: string }> = {
  holds: { sign: '✓', says: 'holds', tone: 'text-moss-ink' },
  look: { sign: '▲', says: 'to look at', tone: 'text-ochre' },
  mend: { sign: '●', says: 'to mend', tone: 'text-rubric' },
};

export const countOf = (groups: readonly CheckGroup[], state: CheckState) =>
  groups.reduce((sum, g) => sum + g.checks.filter((c) => c.state === state).length, 0);

/** How all checks came out, in a line. */
export function summary(groups: readonly CheckGroup[]): string {
  const [holds, mend, look] = (['holds', 'mend', 'look'] as const).map((s) => countOf(groups, s));
  return [`${holds} hold`, mend ? `${mend} to mend` : '', look ? `${look} to look at` : ''].filter(Boolean).join(', ');
}

/** Rooms in which a check is mended, with what leads there. */
const rooms: Record<string, { path: string; says: string }> = {
  write: { path: 'write', says: 'In the text' },
  sources: { path: 'sources', says: 'In the sources' },
  'set-up': { path: 'set-up', says: 'Set-up' },
  notes: { path: 'write', says: 'Read them' },
};

export const wayTo = (check: HandInCheck) => (check.state === 'holds' || !check.room ? undefined : rooms[check.room]);

/** A size in bytes, for people. */
export const sizeOf = (bytes: number) =>
  bytes < 1000
    ? plural(bytes, 'byte')
    : bytes < 1e6
      ? `${Math.round(bytes / 1000)} kB`
      : `${(bytes / 1e6).toFixed(1)} MB`;

/** When something is due, seen from a day. */
export function due(deadline: string, today: Date): string {
  const day = new Date(`${deadline}T00:00:00`);
  const from = new Date(today.getFullYear(), today.getMonth(), today.getDate());
  const days = Math.round((day.getTime() - from.getTime()) / 86400000);
  const named = day.toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });
  if (days === 0) return `due today, ${named}`;
  if (days === 1) return `due tomorrow, ${named}`;
  return days > 0 ? `due ${named}, in ${days} days` : `was due ${named}, ${plural(-days, 'day')} ago`;
}
