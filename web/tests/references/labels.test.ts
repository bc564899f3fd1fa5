import { describe, expect, it } from 'vitest';
import type { LabelEntry, OutlineLine } from '../../src/api/client';
import { bodyOf, groups, isFound, isUnused, leaning, nameOf } from '../../src/references/labels';

const label = (key: string, kind: string, more: Partial<LabelEntry> = {}): LabelEntry => ({
  key,
  kind,
  number: '1',
  page: '1',
  sheet: 1,
  title: '',
  file: 'main.tex',
  line: 1,
  offset: 0,
  source: null,
  remark: null,
  near: null,
  statement: null,
  uses: [],
  ...more,
});
const use = (file: string, line: number) => ({ file, line, offset: line, before: '', after: '' });
const heading = (level: number, number: string | null, file: string | null, line: number): OutlineLine => ({
  level,
  number,
  title: `T${number}`,
  page: '1',
  sheet: 1,
  file,
  line,
  offset: 0,
  words: 0,
});

describe('theorems', () => {
  it('are a group of their own, whatever they are called', () => {
    const lemma = label('l:one', 'merksatz', { statement: 'Merksatz' });
    const of = (name: string) => groups.find((g) => g.name === name)!;
    expect(of('theorems').fits(lemma)).toBe(true);
    expect(of('others').fits(lemma)).toBe(false);
    expect(of('theorems').fits(label('i:one', 'enumi'))).toBe(false);
    expect(nameOf(lemma)).toBe('Merksatz');
  });
});

describe('groups of labels', () => {
  const fits = (l: LabelEntry) => groups.filter((g) => g.fits(l)).map((g) => g.name);
  it('are by what they name and by what is odd', () => {
    const used = { uses: [use('main.tex', 1)] };
    expect(fits(label('a', 'chapter', used))).toEqual(['labels', 'chapters']);
    expect(fits(label('a', 'subsection', used))).toEqual(['labels', 'sections']);
    expect(fits(label('a', 'subfigure', used))).toEqual(['labels', 'figures']);
    expect(fits(label('a', 'equation'))).toEqual(['labels', 'equations', 'never used']);
    expect(fits(label('a', 'theorem', used))).toEqual(['labels', 'others']);
    expect(fits(label('a', 'missing', used))).toEqual(['unresolved']);
    expect(fits(label('a', 'table', { ...used, remark: 'doubled-label' }))).toEqual(['labels', 'tables', 'doubled']);
    expect(isUnused(label('a', 'missing'))).toBe(false);
  });
  it('are found by words of their titles, numbers and keys', () => {
    const l = label('sec:delay', 'section', { title: 'The delay at the start', number: '3.2' });
    expect(['delay', 'start DELAY', '3.2', 'sec:', ''].map((w) => isFound(l, w))).toEqual([
      true,
      true,
      true,
      true,
      true,
    ]);
    expect(isFound(l, 'delay end')).toBe(false);
  });
  it('are named by what there is', () => {
    expect(nameOf(label('a', 'section', { title: 'One' }))).toBe('One');
    expect(
      nameOf(
        label('a', 'equation', {
          source: '\\begin{subequations}\\begin{align}\n a &= b\n\\end{align}\\end{subequations}',
        }),
      ),
    ).toBe('a &= b');
    expect(nameOf(label('a', 'missing'))).toBe('defined nowhere');
    expect(nameOf(label('a', 'item'))).toBe('item');
    expect(bodyOf('\\begin{equation}\n  x\n\\end{equation}')).toBe('x');
  });
});

describe('who leans on whom', () => {
  const outline = [
    heading(0, null, null, 1),
    heading(0, '1', 'one.tex', 1),
    heading(1, '1.1', 'one.tex', 5),
    heading(0, '2', 'two.tex', 1),
    heading(0, 'A', 'main.tex', 20),
  ];
  it('counts references between chapters, whichever file or section they stand in', () => {
    const { chapters, arcs } = leaning(
      [
        label('a', 'section', {
          file: 'one.tex',
          line: 6,
          uses: [use('two.tex', 3), use('two.tex', 9), use('one.tex', 2), use('main.tex', 30)],
        }),
        label('b', 'chapter', { file: 'two.tex', line: 1, uses: [use('one.tex', 7), use('main.tex', 2)] }),
        label('c', 'missing', { file: null, line: null, uses: [use('one.tex', 1)] }),
      ],
      outline,
    );
    expect(chapters.map((c) => c.number)).toEqual(['1', '2', 'A']);
    expect(arcs).toEqual([
      { from: 1, to: 0, count: 2 },
      { from: 2, to: 0, count: 1 },
      { from: 0, to: 1, count: 1 },
    ]);
  });
  it('is nothing without headings', () => {
    expect(leaning([], [])).toEqual({ chapters: [], arcs: [] });
  });
});
