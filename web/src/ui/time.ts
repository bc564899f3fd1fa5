const time = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const weekday = new Intl.DateTimeFormat('en-GB', { weekday: 'long' });
const date = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long' });
const dateOfYear = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

const daysAgo = (at: Date) => {
  const midnight = new Date();
  midnight.setHours(0, 0, 0, 0);
  return Math.ceil((midnight.getTime() - at.getTime()) / 86_400_000);
};

/** The day of a moment as people say it: tomorrow, today, yesterday, Monday, 3 October. */
export function day(moment: string): string {
  const at = new Date(moment);
  const ago = daysAgo(at);
  if (ago === 0) return 'today';
  if (ago === -1) return 'tomorrow';
  if (ago === 1) return 'yesterday';
  if (ago > 0 && ago < 7) return weekday.format(at);
  return (at.getFullYear() === new Date().getFullYear() ? date : dateOfYear).format(at);
}

/** A moment as people say it: 14:05 today, Monday 9:30, 3 October. */
export function moment(value: string): string {
  const at = new Date(value);
  const ago = daysAgo(at);
  return Math.abs(ago) < 7 ? `${time.format(at)} ${day(value)}` : day(value);
}

/** A moment where there is little room: 14:05 of today, otherwise the day. */
export const briefly = (value: string) => (daysAgo(new Date(value)) === 0 ? time.format(new Date(value)) : day(value));
