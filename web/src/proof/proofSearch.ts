import type { PageSpot } from './proofMap';
import { placed, runs, textOf, type SheetContent } from './sheet';
import { stepTo } from './textLayer';

/** The words of a page in reading order, and which row each of their characters is of. */
interface PageWords {
  text: string;
  /** For each character its row, and its place in that; −1 between rows. */
  rows: { row: number; at: number }[];
}

const wordsOf = new WeakMap<SheetContent, PageWords>();

/** The words of a page: one space between them, and those that are divided at a line's end whole again. */
export function pageWords(sheet: SheetContent): PageWords {
  const known = wordsOf.get(sheet);
  if (known) return known;
  const all = runs(sheet);
  const words: PageWords = { text: '', rows: [] };
  const add = (sign: string, row: number, at: number) => {
    words.text += sign;
    words.rows.push({ row, at });
  };
  all.forEach((current, row) => {
    const text = textOf(current.run);
    for (let at = 0; at < text.length; at++) add(text[at]!, row, at);
    const next = all[row + 1];
    const step = text !== '' && next ? stepTo(current, next) : 'none';
    if (step === 'line' && /[a-zà-ÿ]-$/i.test(words.text)) {
      words.text = words.text.slice(0, -1);
      words.rows.pop();
    } else if (step !== 'none') add(' ', -1, 0);
  });
  wordsOf.set(sheet, words);
  return words;
}

const simple = (text: string) =>
  text
    .toLowerCase()
    .replace(/[\u2018\u2019]/g, "'")
    .replace(/[\u201c\u201d]/g, '"')
    .replace(/\u00a0/g, ' ');

/** Where some words stand on a page (from 1): for each place the stretches of its lines. */
export function findOn(sheet: number, content: SheetContent, wanted: string): PageSpot[][] {
  const words = simple(wanted).replace(/\s+/g, ' ').trim();
  if (words === '') return [];
  const { text, rows } = pageWords(content);
  const all = runs(content);
  const found: PageSpot[][] = [];
  const within = simple(text);
  for (let from = within.indexOf(words); from >= 0; from = within.indexOf(words, from + words.length)) {
    const spots: PageSpot[] = [];
    let last = -1;
    for (let i = from; i < from + words.length; i++) {
      const { row, at } = rows[i]!;
      if (row < 0) continue;
      const { run, matrix, size } = all[row]!;
      const share = run[6] / Math.max(1, textOf(run).length);
      const [x, y] = placed(matrix, run[1] + at * share, run[2] - size * 0.85);
      if (row === last) spots.at(-1)!.width = (x + share) / 100 - spots.at(-1)!.x;
      else spots.push({ sheet, x: x / 100, y: y / 100, width: share / 100, height: size / 100 });
      last = row;
    }
    if (spots.length > 0) found.push(spots);
  }
  return found;
}
