import type { OutlineLine } from '../api/client';

/** The words of each section with those of the sections within it. */
export function wordsWithin(outline: readonly Pick<OutlineLine, 'level' | 'words'>[]): number[] {
  // What this browser kept of an earlier version of the application doesn't say.
  const sums = outline.map((e) => e.words ?? 0);
  // From the last one on: each finds the sums of what stands within it ready.
  const next: number[] = [];
  for (let i = outline.length - 1; i >= 0; i--) {
    let at = i + 1;
    while (at < outline.length && outline[at]!.level > outline[i]!.level) {
      sums[i]! += sums[at]!;
      at = next[at]!;
    }
    next[i] = at;
  }
  return sums;
}

/** Which section a line is in, by its place in the outline: the one of the last heading at or above it. −1: before the first. */
export const sectionAt = (
  outline: readonly Pick<OutlineLine, 'file' | 'line'>[],
  path: string | undefined,
  line: number,
): number => outline.findLastIndex((e) => e.file === path && (e.line ?? 0) <= line);
