import type { OutlineLine } from '../api/client';

/** The words of each section with those of the sections within it. */
export function wordsWithin(outline: readonly Pick<OutlineLine, 'level' | 'words'>[]): number[] {
  return outline.map(({ level }, i) => {
    const next = outline.findIndex((e, at) => at > i && e.level <= level);
    // What this browser kept of an earlier version of the application doesn't say.
    return outline.slice(i, next < 0 ? undefined : next).reduce((sum, e) => sum + (e.words ?? 0), 0);
  });
}

/** Which section a line is in, by its place in the outline: the one of the last heading at or above it. −1: before the first. */
export const sectionAt = (
  outline: readonly Pick<OutlineLine, 'file' | 'line'>[],
  path: string | undefined,
  line: number,
): number => outline.findLastIndex((e) => e.file === path && (e.line ?? 0) <= line);
