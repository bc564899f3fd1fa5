import { EditorState, Text } from '@codemirror/state';
import { describe, expect, test } from 'vitest';
import type { TypedTable } from '../src/api/client';
import { asTemplate } from '../src/write/completion/template';
import { signsFor } from '../src/write/making/FormulaHelper';
import { formulaAround, formulaNeeds } from '../src/write/making/formulas';
import * as grid from '../src/write/making/grid';
import { isCells } from '../src/write/making/pasted';
import { figureTemplate, isPicture, obstacleTo, pathOf, placeForBlock } from '../src/write/making/pictures';
import { referenceTo } from '../src/write/making/useMaking';

const cell = (text: string, columns = 1, rows = 1) => ({ text, columns, rows, align: columns > 1 ? 'c' : null });

/** Head over two columns, a line under it, and two rows. */
const table: TypedTable = {
  environment: 'tabular',
  columns: [
    { before: '@{}', kind: 'l', after: '' },
    { before: '', kind: 'l', after: '' },
    { before: '', kind: 'r', after: '@{}' },
  ],
  rows: [
    { above: ['\\toprule'], cells: [cell('Item', 2), cell('Price')], end: '\\\\', origin: 0 },
    { above: ['\\cmidrule(r){1-2}', '\\midrule'], cells: [cell('a'), cell('b'), cell('c')], end: '\\\\', origin: 1 },
    { above: ['% late'], cells: [cell('d')], end: '\\\\', origin: 2 },
  ],
  below: ['\\bottomrule'],
  obstacle: null,
};
const words = (t: TypedTable) => t.rows.map((r) => r.cells.map((c) => c.text).join('|'));
const spec = (t: TypedTable) => t.columns.map((c) => c.before + c.kind + c.after).join(' ');
const above = (t: TypedTable) => t.rows.map((r) => r.above.join(' '));

describe('the grid of a table', () => {
  test('a cell is written, also where its row had ended', () => {
    expect(words(grid.write(table, { row: 1, column: 1 }, 'x'))[1]).toBe('a|x|c');
    expect(words(grid.write(table, { row: 2, column: 2 }, 'x'))[2]).toBe('d||x');
    expect(grid.write(table, { row: 0, column: 1 }, 'x').rows[0]!.cells[0]).toEqual(cell('x', 2));
    expect(grid.write(table, { row: 1, column: 1 }, 'x').rows[0]).toBe(table.rows[0]);
  });

  test('a row comes in on either side, and lines stay where they are', () => {
    const first = grid.addRow(table, 0, false);
    expect([words(first)[0], above(first)[0], above(first)[1]]).toEqual(['||', '\\toprule', '']);
    const last = grid.addRow(table, 2, true);
    expect([words(last)[3], last.below]).toEqual(['||', ['\\bottomrule']]);
  });

  test('a row goes, and where two lines would meet there is one', () => {
    expect(above(grid.removeRow(table, 0))[0]).toBe('\\toprule \\cmidrule(r){1-2}');
    expect(above(grid.removeRow(table, 1))[1]).toBe('\\cmidrule(r){1-2} \\midrule % late');
    expect(grid.removeRow(table, 2).below).toEqual(['% late', '\\bottomrule']);
  });

  test('rows change places between their lines', () => {
    const moved = grid.moveRow(table, 1, 1);
    expect(words(moved)).toEqual(['Item|Price', 'd', 'a|b|c']);
    expect(above(moved)).toEqual(above(table));
    expect(grid.moveRow(table, 0, -1)).toBe(table);
  });

  test('a column comes in: joined cells grow over it, lines go on, edges stay edges', () => {
    const within = grid.addColumn(table, 1);
    expect(within.rows[0]!.cells[0]!.columns).toBe(3);
    expect([words(within)[1], words(within)[2], above(within)[1]]).toEqual([
      'a||b|c',
      'd',
      '\\cmidrule(r){1-3} \\midrule',
    ]);
    expect(spec(grid.addColumn(table, 0))).toBe('@{}l l l r@{}');
    expect(spec(grid.addColumn(table, 3))).toBe('@{}l l r l@{}');
    expect(words(grid.addColumn(table, 3))).toEqual(['Item|Price|', 'a|b|c|', 'd']);
    expect(above(grid.addColumn(table, 0))[1]).toBe('\\cmidrule(r){2-3} \\midrule');
  });

  test('a column goes', () => {
    const gone = grid.removeColumn(table, 0);
    expect([spec(gone), words(gone)[1], gone.rows[0]!.cells[0]!.columns]).toEqual(['@{}l r@{}', 'b|c', 1]);
    expect(above(gone)[1]).toBe('\\cmidrule(r){1-1} \\midrule');
    expect(above(grid.removeColumn(gone, 0))[1]).toBe('\\midrule');
    expect(spec(grid.removeColumn(table, 2))).toBe('@{}l l@{}');
    const one = grid.emptyTable(2, 1);
    expect(grid.removeColumn(one, 0)).toBe(one);
  });

  test('cells are joined and parted', () => {
    const wide = grid.joinRight(table, { row: 1, column: 1 });
    expect(wide.rows[1]!.cells).toEqual([cell('a'), cell('b c', 2)]);
    expect(words(grid.part(wide, { row: 1, column: 1 }))[1]).toBe('a|b c|');
    const tall = grid.joinBelow(table, { row: 1, column: 0 });
    expect([tall.rows[1]!.cells[0], words(tall)[2]]).toEqual([cell('a d', 1, 2), '']);
    expect(grid.needsOf(tall)).toEqual(['booktabs', 'multirow']);
    expect(grid.joinBelow(table, { row: 0, column: 0 })).toBe(table);
    expect(grid.joinRight(table, { row: 0, column: 2 })).toBe(table);
  });

  test('columns and joined cells are aligned', () => {
    expect(spec(grid.align(table, { row: 1, column: 1 }, 'c'))).toBe('@{}l c r@{}');
    expect(grid.align(table, { row: 0, column: 1 }, 'r').rows[0]!.cells[0]!.align).toBe('r');
  });

  test('lines are drawn in the manner of the table', () => {
    expect(above(grid.drawLine(table, 2, 'thin'))[2]).toBe('\\midrule % late');
    expect(above(grid.drawLine(table, 1, 'none'))[1]).toBe('\\cmidrule(r){1-2}');
    expect(grid.drawLine(table, 3, 'thin').below).toEqual(['\\midrule']);
    const plain = { ...table, below: ['\\hline'] };
    expect(above(grid.drawLine(plain, 2, 'thin'))[2]).toBe('\\hline % late');
  });

  test('copied cells pour in, and make room', () => {
    const poured = grid.pour(table, { row: 2, column: 2 }, [['x', 'y'], ['z']]);
    expect(words(poured).slice(2)).toEqual(['d||x|y', '||z|']);
    expect(poured.columns).toHaveLength(4);
  });
});

describe('what is pasted', () => {
  test.each([
    ['a\tb\nc\td', true],
    ['a\tb\nc', false],
    ['a\tb', false],
    ['Site,Year\nA,1998\nB,2001\n', true],
    ['Site;Area\nA;1,5\nB;2,5', true],
    ['Walls are old, they say.\nMost are young, we say.\nAll stand, so far.', false],
    ['\\alpha & 1\t2\n\\beta & 3\t4', false],
    ['one line, and another', false],
  ])('%j', (text, is) => expect(isCells(text)).toBe(is));
});

describe('pictures', () => {
  const png = (name: string, size = 8, type = 'image/png') =>
    new File([new Uint8Array([0x89, 0x50, 0x4e, 0x47, ...Array.from({ length: size }, () => 0)])], name, { type });

  test('a path is plain, in the folder of figures, and not taken', () => {
    expect(pathOf(png('Größe (neu).PNG'), [])).toBe('figures/Gro-e-neu.png');
    expect(pathOf(png('image.png'), ['figures/Picture.png'])).toBe('figures/picture-2.png');
    expect(pathOf({ name: 'plot.jpeg', type: '' }, [])).toBe('figures/plot.jpeg');
  });

  test('what can’t be set is said, by its bytes and not its name', async () => {
    expect(await obstacleTo(png('a.png'))).toBeNull();
    expect(await obstacleTo(new File(['GIF89a'], 'a.gif', { type: 'image/gif' }))).toMatch(/a kind that can’t be set/);
    expect(await obstacleTo(new File(['hello'], 'a.png', { type: 'image/png' }))).toMatch(/isn’t what its name says/);
    expect(await obstacleTo({ name: 'a.png', size: 41 * 1024 * 1024, type: 'image/png' } as File)).toMatch(
      /^a\.png has 41 MB; a picture may have 30/,
    );
    expect(isPicture({ name: 'a.webp', type: '' })).toBe(true);
    expect(isPicture({ name: 'a.tex', type: 'text/x-tex' })).toBe(false);
  });

  test('a figure goes to an empty line, or behind its paragraph', () => {
    const doc = Text.of(['One', 'two.', '', 'Three.', '\\section{S}', '\\end{document}']);
    expect(placeForBlock(doc, 1)).toEqual({ from: 8, to: 8, before: '\n\n', after: '' });
    expect(placeForBlock(doc, 9)).toEqual({ from: 9, to: 9, before: '\n', after: '\n' });
    expect(placeForBlock(doc, 12)).toEqual({ from: 16, to: 16, before: '\n\n', after: '\n' });
    expect(figureTemplate('figures/plot-2.png')).toContain('\\label{fig:${plot-2}}');
  });
});

describe('formulas', () => {
  const at = (text: string) => {
    const place = text.indexOf('|');
    return formulaAround(Text.of(text.replace('|', '').split('\n')), place);
  };

  test.each([
    ['a $x|+y$ b', 'line', 'x+y', '$'],
    ['a \\( x|^2 \\) b', 'line', 'x^2', '\\( '],
    ['\\[\n  a|b\n\\]', 'display', 'ab', '\\[\n  '],
    ['\\begin{equation}\n  \\label{e} a|\n\\end{equation}', 'numbered', '\\label{e} a', '\\begin{equation}\n  '],
    ['\\begin{align*}\n  a &= |b\n\\end{align*}', 'own', 'a &= b', '\\begin{align*}\n  '],
  ])('%j', (text, place, body, open) => expect(at(text)).toMatchObject({ place, body, open }));

  test('there is none between two, at a price, or in another paragraph', () => {
    expect(at('$a$ | $b$')).toBeNull();
    expect(at('5\\$ | 6\\$')).toBeNull();
    expect(at('$a\n\n| b$')).toBeNull();
  });

  test('what a formula is made of is put together again', () => {
    const text = 'a \\( x^2 \\) b';
    const found = formulaAround(Text.of([text]), 6)!;
    expect(found.open + found.body + found.close).toBe(text.slice(found.from, found.to));
    expect(formulaNeeds('\\(\\text{a}\\)')).toEqual(['amsmath']);
    expect(formulaNeeds('\\(\\frac12\\)')).toEqual([]);
  });

  test('signs are found by words, the plainest first', () => {
    const sign = (name: string, words: string, kind: 'arrow' | 'greek') => ({ name, words, kind, sign: name });
    const all = [
      sign('longleftrightarrow', 'long left right arrow', 'arrow'),
      sign('longrightarrow', 'long rightwards arrow', 'arrow'),
      sign('alpha', 'greek small letter alpha', 'greek'),
    ];
    expect(signsFor(all, 'greek', 'arrow right long').map((s) => s.name)).toEqual([
      'longrightarrow',
      'longleftrightarrow',
    ]);
    expect(signsFor(all, 'greek', '').map((s) => s.name)).toEqual(['alpha']);
    expect(signsFor(all, 'greek', '\\alpha').map((s) => s.name)).toEqual(['alpha']);
  });
});

test('a thing is named as its place wants it', () => {
  expect(referenceTo('reference', 'fig:a', 'see ', [])).toBe('\\ref{fig:a}');
  expect(referenceTo('reference', 'fig:a', 'see ', ['cleveref'])).toBe('\\cref{fig:a}');
  expect(referenceTo('reference', 'fig:a', 'see \\pageref{', [])).toBe('fig:a');
  expect(referenceTo('citation', 'rook1991', 'see ', ['natbib'])).toBe('\\citep{rook1991}');
  expect(referenceTo('citation', 'rook1991', '\\citet[p. 3]{a,', ['natbib'])).toBe('rook1991');
});

test('markup in a template is put in as it is', async () => {
  const { snippet } = await import('@codemirror/autocomplete');
  const markup = 'a \\{b\\} ${\\alpha}$ #{x} \\\\{y} {z}';
  let made = '';
  const state = EditorState.create({ doc: '' });
  snippet(asTemplate(markup))({ state, dispatch: (t) => (made = t.state.doc.toString()) }, null, 0, 0);
  expect(made).toBe(markup);
});
