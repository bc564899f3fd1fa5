import { describe, expect, test } from 'vitest';
import type { Finding } from '../src/api/client';
import { withoutLeft, type LeftRemark } from '../src/write/useLeft';
import { lastDays, lineThrough } from '../src/write/wordDays';

describe('the days of writing', () => {
  const days = [
    { day: '2026-11-01', words: 100 },
    { day: '2026-11-03', words: 300 },
    { day: '2026-11-05', words: 200 },
  ];

  test('today is what there is now, and only the last weeks are drawn', () => {
    expect(lastDays(days, 250, new Date(2026, 10, 5, 12))).toEqual([
      ...days.slice(0, 2),
      { day: '2026-11-05', words: 250 },
    ]);
    expect(lastDays(days, 250, new Date(2026, 10, 6)).at(-1)).toEqual({ day: '2026-11-06', words: 250 });
    const many = Array.from({ length: 60 }, (_, i) => ({
      day: `2026-0${1 + Math.floor(i / 28)}-${String(1 + (i % 28)).padStart(2, '0')}`,
      words: i,
    }));
    expect(lastDays(many, 1, new Date(2026, 10, 6))).toHaveLength(42);
  });

  test('a day without a count is a longer way, and one count is a point', () => {
    expect(lineThrough(days, 104, 24)).toBe('2.0,22.0 52.0,2.0 102.0,12.0');
    expect(lineThrough(days.slice(0, 1), 104, 24)).toBe('2.0,22.0');
  });
});

test('what was left as it is isn’t said, unless it has to be fixed', () => {
  const finding = (kind: string, message: string, file: string | null = 'a.tex') =>
    ({ kind, code: 'c', message, file }) as Finding;
  const left = [
    { code: 'c', message: 'one', file: 'a.tex' },
    { code: 'c', message: 'all', file: '' },
  ] as LeftRemark[];
  const all = [
    finding('check', 'one'),
    finding('fix', 'one'),
    finding('check', 'two'),
    finding('layout', 'all', null),
    finding('check', 'one', 'b.tex'),
  ];
  expect(withoutLeft(all, left).map((f) => `${f.kind} ${f.message} ${f.file}`)).toEqual([
    'fix one a.tex',
    'check two a.tex',
    'check one b.tex',
  ]);
});
