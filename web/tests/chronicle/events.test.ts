import { describe, expect, it } from 'vitest';
import type { HistoryEvent, PassageChange, Pin } from '../../src/api/client';
import { byDays, counted, sectionsOf, shortened, summed, together, told, traced } from '../../src/chronicle/events';

const event = (number: number, more: Partial<HistoryEvent> = {}): HistoryEvent => ({
  number,
  person: null,
  script: null,
  kind: 'text',
  file: 1,
  paths: ['a.tex'],
  fromRevision: number * 10,
  toRevision: number * 10 + 5,
  steps: 6,
  begin: `2026-03-0${number}T09:00:00Z`,
  end: `2026-03-0${number}T10:00:00Z`,
  wordsIn: 0,
  wordsOut: 0,
  places: [],
  says: [],
  ...more,
});
const pin = (id: number, revision: number): Pin => ({
  id,
  revision,
  name: `Pin ${id}`,
  note: '',
  person: null,
  at: '2026-05-05T10:00:00Z',
  isAutomatic: false,
  pages: 1,
  words: 1,
});

describe('events', () => {
  it.each([
    [
      event(1, {
        places: [
          { number: '3.2', title: 'Shade' },
          { number: null, title: 'Notes' },
        ],
      }),
      '',
      '3.2 Shade · Notes',
    ],
    [event(1, { paths: ['sources.bib'], places: [{ number: null, title: 'wall1990' }] }), 'Sources', 'wall1990'],
    [event(1, { kind: 'create', says: ['a', 'b', 'c', 'd'] }), 'added', 'a, b and 2 more'],
    [event(1, { kind: 'act', says: ['moved “X”'] }), 'moved “X”', 'a.tex'],
    [event(1, { kind: 'rename', says: ['a → b'] }), 'renamed', 'a → b'],
    [event(1, { kind: 'setting', says: ['title: X'] }), 'set', 'title: X'],
  ])('are told in words', (one, what, to) => expect(told(one)).toEqual({ what, to }));

  it('say how many words came and went, and by which revisions', () => {
    expect(counted(event(1, { wordsIn: 84, wordsOut: 12 }))).toBe('+84 words, −12 · a.tex · rev 10–15');
    expect(counted(event(1, { wordsOut: 1, paths: ['a', 'b'], toRevision: 10 }))).toBe('−1 word · 2 files · rev 10');
    expect(counted(event(1, { wordsIn: 1, paths: [] }))).toBe('+1 word · rev 10–15');
  });

  it('stand under their days, with pins above what they name, whenever those were set', () => {
    const days = byDays([event(3), event(2), event(1)], [pin(1, 25), pin(2, 24), pin(3, 99)]);
    expect(days.map(({ day, lines }) => [day.slice(5), ...lines.map((l) => l.pin?.name ?? l.event!.number)])).toEqual([
      ['03-03', 'Pin 3', 3],
      ['03-02', 'Pin 1', 2],
      ['03-01', 'Pin 2', 1],
    ]);
  });
});

describe('comparing', () => {
  const long = 'word '.repeat(60);
  it('cuts short what is the same', () => {
    const [before, , between, , after] = shortened([
      { kind: 'same', text: long },
      { kind: 'out', text: long },
      { kind: 'same', text: long },
      { kind: 'in', text: 'x' },
      { kind: 'same', text: long },
    ]);
    expect(before!.text).toMatch(/^… word/);
    expect(after!.text).toMatch(/word …$/);
    expect(between!.text).toContain(' … ');
    expect(Math.max(before!.text.length, after!.text.length)).toBeLessThan(100);
    expect(shortened([{ kind: 'same', text: 'short' }])[0]!.text).toBe('short');
  });

  it('shows the cells of a table as one change', () => {
    const change = (text: string, words: number, sheet = 1, kind = 'inserted') => ({
      kind,
      text,
      words,
      page: '1',
      sheet,
    });
    const all = [
      change('A long passage of words', 5),
      change('a', 1),
      change('b', 1),
      change('c', 1, 2),
      change('d', 1, 2, 'deleted'),
      change('More words in a row', 5, 2),
    ];
    expect(together(all).map((c) => c.text)).toEqual([
      'A long passage of words',
      'a · b',
      'c',
      'd',
      'More words in a row',
    ]);
  });
});

describe('words that are followed', () => {
  it('came, went or were moved', () => {
    expect(traced({ came: 1, went: 0 })).toBe('they came');
    expect(traced({ came: 3, went: 0 })).toBe('they came, 3 times');
    expect(traced({ came: 0, went: 2 })).toBe('they went, 2 times');
    expect(traced({ came: 1, went: 1 })).toBe('they were moved');
  });
  it('are there, or not any more, or never were', () => {
    const some = [{ came: 1, went: 0 }];
    expect(summed(1, some)).toBe('There now, in one place.');
    expect(summed(2, some)).toBe('There now, in 2 places.');
    expect(summed(0, some)).toBe('Not there any more.');
    expect(summed(0, [])).toBe('These words never stood in a text.');
  });
});

describe('passages by sections', () => {
  const of = (number: string | null, title: string) => ({ place: { number, title } }) as PassageChange;
  it('come back together from the first of each', () => {
    const [a, b, c, d] = [of('1.1', 'North'), of('1.2', 'South'), of('1.1', 'North'), of(null, 'Notes')] as const;
    expect(sectionsOf([a, b, c, d])).toEqual([
      { change: a, section: [a, c] },
      { change: b, section: [b] },
      { change: c, section: [] },
      { change: d, section: [d] },
    ]);
  });
});
