import type { OutlineLine } from '../api/client';

/** A section that is to go elsewhere: not yet done. */
export interface Pending {
  /** Its entry. */
  section: number;
  /** The entry that it is to stand before; as many as there are: the end. */
  before: number;
  /** By how many levels it goes in. */
  shift: number;
}

/** The entry behind a section and all that is below it. */
export function endOf(entries: readonly OutlineLine[], section: number): number {
  let end = section + 1;
  while (end < entries.length && entries[end]!.level > entries[section]!.level) end++;
  return end;
}

/** Whether an entry is a heading that somebody typed. */
export const isTyped = (entry: OutlineLine | undefined) => entry?.file != null && entry.offset != null;

/** Whether a move would change nothing. */
export const isIdle = (entries: readonly OutlineLine[], { section, before, shift }: Pending) =>
  shift === 0 && before >= section && before <= endOf(entries, section);

/** Where each entry stands after a move: from its place before to its place after. */
export function placesAfter(entries: readonly OutlineLine[], { section, before }: Pending): number[] {
  const end = endOf(entries, section);
  const order = entries.map((_, i) => i);
  const block = order.splice(section, end - section);
  const at = before >= end ? before - block.length : Math.min(before, section);
  order.splice(at, 0, ...block);
  const places: number[] = [];
  order.forEach((was, now) => (places[was] = now));
  return places;
}

/** A pending move one step on, by key; the same when there is no such step. */
export function stepped(entries: readonly OutlineLine[], now: Pending, key: string): Pending {
  const { section, before, shift } = now;
  const end = endOf(entries, section);
  const inPlace = before >= section && before <= end;
  switch (key) {
    case 'ArrowUp': {
      const from = inPlace ? section : before;
      return from === 0 || !isTyped(entries[from - 1]) ? now : { ...now, before: from - 1 };
    }
    case 'ArrowDown': {
      const from = inPlace ? end : before;
      return from >= entries.length ? now : { ...now, before: from + 1 };
    }
    case 'ArrowLeft':
      return { ...now, shift: shift - 1 };
    case 'ArrowRight':
      return { ...now, shift: shift + 1 };
    default:
      return now;
  }
}
