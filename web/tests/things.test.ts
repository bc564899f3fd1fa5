import { describe, expect, it, vi } from 'vitest';
import type { Manuscript, Report, SourceRow } from '../src/api/client';
import { fitting, MostListed, thingsOf } from '../src/rooms/things';

const run = vi.fn();
const things = thingsOf({
  manuscript: {
    files: [
      { path: 'main.tex', isText: true },
      { path: 'chapters/walls.tex', isText: true },
      { path: 'plan.png', isText: false },
    ] as Manuscript['files'],
  },
  rooms: [{ path: 'write', ribbon: 'Write' }],
  report: {
    outline: [
      { title: 'Dry walls', number: '2', page: '7', file: 'chapters/walls.tex', line: 3 },
      { title: 'Contents', number: null, page: 'i', file: null, line: null },
    ],
    floats: [],
    labels: [{ key: 'ch:walls', kind: 'chapter', number: '2', file: 'chapters/walls.tex', line: 3 }],
  } as unknown as Report,
  sources: [
    { key: 'holm2020', authors: 'Holm', year: '2020', title: 'Old walls', isThere: true },
    { key: 'gone', isThere: false },
  ] as SourceRow[],
  actions: [{ name: 'Find in all files', key: 'Mod-Shift-f', run }],
});
const found = (typed: string) => fitting(things, typed).map((t) => `${t.kind} ${t.name}`);

describe('everything by name', () => {
  it('is what can be done, rooms, texts, sections, labels and sources', () => {
    expect(things.map((t) => `${t.kind} ${t.name}`)).toEqual([
      'action Find in all files',
      'room Write',
      'file main.tex',
      'file chapters/walls.tex',
      'section Dry walls',
      'label ch:walls',
      'source holm2020',
    ]);
    expect(things.find((t) => t.kind === 'section')).toMatchObject({
      note: '2, page 7',
      to: { file: 'chapters/walls.tex', line: 3 },
    });
    expect(things.find((t) => t.kind === 'source')!.to).toEqual({ address: 'sources?key=holm2020' });
  });
  it('is found by words of its name or what is said of it, names first', () => {
    expect(found('walls')).toEqual([
      'file chapters/walls.tex',
      'section Dry walls',
      'label ch:walls',
      'source holm2020',
    ]);
    expect(found('find all')).toEqual(['action Find in all files']);
    expect(found('label walls')).toEqual(['label ch:walls']);
    expect(found('wr')[0]).toBe('room Write');
    expect(found('2020 old')).toEqual(['source holm2020']);
    expect(found('no such')).toEqual([]);
  });
  it('takes signs as they are, and lists no more than can be looked through', () => {
    expect(found('main.')).toEqual(['file main.tex']);
    expect(found('(')).toEqual([]);
    const many = Array.from({ length: 500 }, () => things[0]!);
    expect(fitting(many, '').length).toBe(MostListed);
  });
});
