import { expect, test } from 'vitest';
import type { ShelfEntry } from '../../src/api/client';
import { arranged } from '../../src/shelf/arranged';
import { titleIn } from '../../src/shelf/StartDialog';

const entry = (title: string, pages: number, until: string | null, people: string[]) =>
  ({
    title,
    description: 'thesis',
    pages,
    people: people.map((name, id) => ({ id, name })),
    news: { items: until ? [{ until }] : [] },
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
  expect(shelf.map((e) => e.title)).toEqual(['Moss', 'Ash', 'Lichen']);
});

test('a text gives itself its title', () => {
  expect(titleIn('\\documentclass{article}\n\\title[Short]{On walls}')).toBe('On walls');
  expect(titleIn('\\title{With \\emph{marks}}')).toBe('');
  expect(titleIn('no title')).toBe('');
});
