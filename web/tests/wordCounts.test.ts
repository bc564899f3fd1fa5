import { describe, expect, it } from 'vitest';
import { wordsWithin } from '../src/write/wordCounts';

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
  });
});
