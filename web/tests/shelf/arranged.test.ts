import { expect, test } from 'vitest';
import type { ShelfEntry } from '../../src/api/client';
import { arranged, dateOf, daysUntil, dueIn } from '../../src/shelf/arranged';
import { titleIn } from '../../src/shelf/StartDialog';

const entry = (title: string, pages: number, until: string | null, people: string[]) =>
  ({
    title,
    description: 'thesis',
    mark: pages === 30 ? 'Spring' : '',
    deadline: pages === 20 ? '2027-01-02' : null,
    pages,
    people: people.map((name, id) => ({ id, name })),
    news: { items: until ? [{ until }] : [], settled: [] },
  }) as unknown as ShelfEntry;
const shelf = [
  entry('Moss', 10, '2026-01-02', ['Ilse Marrable']),
  entry('Ash', 30, null, ['Bao Tremlett']),
  entry('Lichen', 20, '2026-03-01', ['Ilse Marrable', 'Bao Tremlett']),
];
const titles = (words: string, order: Parameters<typeof arranged>[2]) =>
  arranged(shelf, words, order).map((e) => e.title);

test('the shelf is looked through by title, kind and people, and ordered', () => {
  expect(titles('', 'started')).toEqual(['Moss', 'Ash', 'Lichen']);
  expect(titles('', 'title')).toEqual(['Ash', 'Lichen', 'Moss']);
  expect(titles('', 'pages')).toEqual(['Ash', 'Lichen', 'Moss']);
  expect(titles('', 'lately')).toEqual(['Lichen', 'Moss', 'Ash']);
  expect(titles('ilse THESIS', 'title')).toEqual(['Lichen', 'Moss']);
  expect(titles('nobody', 'title')).toEqual([]);
  expect(titles('spring', 'title')).toEqual(['Ash']);
  expect(titles('', 'due')[0]).toBe('Lichen');
  expect(shelf.map((e) => e.title)).toEqual(['Moss', 'Ash', 'Lichen']);
});

test('a text gives itself its title', () => {
  expect(titleIn('\\documentclass{article}\n\\title[Short]{On walls}')).toBe('On walls');
  expect(titleIn('\\title{With \\emph{marks}}')).toBe('');
  expect(titleIn('no title')).toBe('');
});

test('deadlines are told by the days that are left, over the ends of months and of summer time', () => {
  expect(daysUntil('2027-03-01', '2027-02-27')).toBe(2);
  expect(daysUntil('2027-03-29', '2027-03-27')).toBe(2);
  expect(daysUntil('2026-12-31', '2027-01-01')).toBe(-1);
  expect([-3, -1, 0, 1, 9].map(dueIn)).toEqual([
    'was due 3 days ago',
    'was due yesterday',
    'due today',
    'due tomorrow',
    'due in 9 days',
  ]);
  expect(dateOf(new Date(2027, 0, 5, 23, 59))).toBe('2027-01-05');
});
