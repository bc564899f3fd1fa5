import { describe, expect, it } from 'vitest';
import { sectionAt, wordsWithin } from '../src/write/outline';

describe('the words of a section', () => {
  it('are its own with those of the sections within it', () => {
    const outline = [
      { level: 0, words: 10 },
      { level: 1, words: 20 },
      { level: 2, words: 5 },
      { level: 1, words: 7 },
      { level: 0, words: 3 },
    ];
    expect(wordsWithin(outline)).toEqual([42, 25, 5, 7, 3]);
    expect(wordsWithin([])).toEqual([]);
    // A level may be left out on the way down, and on the way up.
    const odd = [4, 1, 3, 2, 0, 2].map((level, i) => ({ level, words: 10 ** i }));
    expect(wordsWithin(odd)).toEqual([1, 1110, 100, 1000, 110000, 100000]);
  });
});

describe('the section that a line is in', () => {
  it('is that of the last heading at or above it in the same file', () => {
    const outline = [
      { file: 'a.tex', line: 4 },
      { file: 'a.tex', line: 9 },
      { file: 'b.tex', line: 1 },
    ];
    const lines = [3, 4, 8, 9, 100];
    expect(lines.map((line) => sectionAt(outline, 'a.tex', line))).toEqual([-1, 0, 0, 1, 1]);
    expect([sectionAt(outline, 'b.tex', 9), sectionAt(outline, undefined, 9), sectionAt([], 'a.tex', 1)]).toEqual([
      2, -1, -1,
    ]);
  });
});
