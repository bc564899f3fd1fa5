import { describe, expect, it } from 'vitest';
import type { Found } from '../src/api/client';
import { beginningOf, endOf, placesIn } from '../src/write/finding';
import { written } from '../src/ui/keyNames';
import { roomKeys, sourceKeys } from '../src/write/source/keys';

const place = (offset: number, line: number) => ({
  offset,
  line,
  length: 4,
  before: '',
  words: 'wall',
  after: '',
  replacement: '',
});

describe('what was found', () => {
  const found: Found = {
    total: 4,
    files: [
      { file: 7, path: 'a.tex', version: 3, places: [place(1, 1), place(9, 5), place(30, 6)] },
      { file: 8, path: 'b.tex', version: 1, places: [place(1, 1)] },
    ],
  };

  it('is numbered through all files, each place as the server knows it again', () => {
    const places = placesIn(found);
    expect(places.map((p) => [p.index, p.key])).toEqual([
      [0, '7 1'],
      [1, '7 9'],
      [2, '7 30'],
      [3, '8 1'],
    ]);
    expect(places[1]!.at).toEqual({ file: 7, version: 3, offset: 9 });
    expect(placesIn(undefined)).toEqual([]);
  });
});

describe('what stands around a place', () => {
  it('is cut between words', () => {
    expect([endOf('rain counts the walls above the ', 20), endOf('short ', 20), endOf('x'.repeat(30), 4)]).toEqual([
      '… walls above the ',
      'short ',
      '… xxxx',
    ]);
    expect([beginningOf('; what rain does to them', 12), beginningOf('.', 12)]).toEqual(['; what rain …', '.']);
  });
});

describe('keys', () => {
  it('are written as they stand on a keyboard', () => {
    expect(['Mod-Shift-f', 'Alt-ArrowUp', 'Escape Tab', 'Mod-.', 'F3'].map(written)).toEqual([
      'Ctrl+Shift+F',
      'Alt+↑',
      'Escape, Tab',
      'Ctrl+.',
      'F3',
    ]);
  });

  it('each do one thing', () => {
    const all = [...Object.values(sourceKeys), ...Object.values(roomKeys)];
    expect(new Set(all).size).toBe(all.length);
    expect(Object.keys(sourceKeys).filter((k) => k in roomKeys)).toEqual([]);
  });
});
