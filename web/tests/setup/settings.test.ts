import { describe, expect, it } from 'vitest';
import type { MarkupHelp, PageLook, Setting } from '../../src/api/client';
import { examplesOf, pageOf } from '../../src/setup/examples';
import {
  comfort,
  isShown,
  lengthNow,
  lineAt,
  measured,
  namesStyle,
  pieces,
  strays,
  valueOf,
} from '../../src/setup/settings';

const setting = (id: string, more: Partial<Setting> = {}): Setting => ({
  id,
  group: 'g',
  title: id,
  does: '',
  form: 'choice',
  choices: [],
  takesOthers: false,
  isLong: false,
  usual: null,
  within: null,
  value: null,
  places: [],
  canChange: true,
  ...more,
});
const all = (...settings: Setting[]) => new Map(settings.map((s) => [s.id, s]));
const place = (from: number, to: number, value = '', file = 'main.tex') => ({
  file,
  from,
  to,
  value,
  held: 'no' as const,
  isShared: false,
});

describe('which settings are shown', () => {
  it('those that can be set, or are', () => {
    expect(isShown(setting('size'), all())).toBe(true);
    expect(isShown(setting('size', { canChange: false }), all())).toBe(false);
    expect(isShown(setting('size', { canChange: false, value: '12' }), all())).toBe(true);
    expect(isShown(setting('width'), all())).toBe(false);
    expect(isShown(setting('width', { value: '14cm' }), all())).toBe(true);
  });

  it('those of heads and feet by the sides of the paper', () => {
    const fancy = setting('pagestyle', { value: 'fancy' });
    const field = (id: string) => setting(id, { within: 'pagestyle=fancy' });
    const [one, both] = [setting('sides', { usual: 'one' }), setting('sides', { usual: 'one', value: 'both' })];
    expect(isShown(field('headL'), all(one))).toBe(false);
    expect(isShown(field('headL'), all(one, fancy))).toBe(true);
    expect(isShown(field('headLO'), all(one, fancy))).toBe(false);
    expect(isShown(field('headL'), all(both, fancy))).toBe(false);
    expect(isShown(field('footRE'), all(both, fancy))).toBe(true);
  });

  it('where chapters begin only with chapters', () => {
    expect(isShown(setting('open'), all(setting('class', { value: 'report' })))).toBe(true);
    expect(isShown(setting('open'), all(setting('class', { value: 'article' })))).toBe(false);
  });

  it('those that name a style have samples', () => {
    const choices = [{ value: 'numbers', words: 'numbers' }];
    expect(namesStyle(setting('bibstyle', { value: 'plain' }))).toBe(true);
    expect(namesStyle(setting('bibstyle'))).toBe(false);
    expect(namesStyle(setting('cites', { value: 'numbers', choices }))).toBe(false);
    expect(namesStyle(setting('cites', { value: 'authoryear-comp', choices }))).toBe(true);
  });

  it('as usual where nothing is said', () => {
    expect(valueOf(setting('size', { usual: '10' }))).toBe('10');
    expect(valueOf(setting('size', { usual: '10', value: '12' }))).toBe('12');
    expect(valueOf(undefined)).toBe(null);
  });
});

describe('a preamble in pieces', () => {
  const text = '\\documentclass[12pt]{report}\n\\title{A}\n\\title{B}\n';
  const settings = [
    setting('size', { places: [place(0, 28, '12')] }),
    setting('class', { places: [place(0, 28, 'report')] }),
    setting('title', { places: [place(29, 38, 'A'), place(39, 48, 'B')] }),
  ];
  it('has every word once, and says what each sets and which holds', () => {
    const found = pieces('main.tex', text, settings);
    expect(found.map((p) => p.text).join('')).toBe(text);
    expect(found.filter((p) => p.settings.length > 0).map((p) => [p.text, p.settings, p.wins])).toEqual([
      ['\\documentclass[12pt]{report}', ['size', 'class'], true],
      ['\\title{A}', ['title'], false],
      ['\\title{B}', ['title'], true],
    ]);
  });
  it('leaves out places of other files and those beyond the text', () => {
    expect(pieces('other.tex', text, settings)).toHaveLength(1);
    expect(pieces('main.tex', 'short', settings)).toHaveLength(1);
    expect(lineAt(text, 39)).toBe(3);
  });
});

describe('a page', () => {
  const page: PageLook = {
    paperWidth: 597.5,
    paperHeight: 845,
    textWidth: 345,
    textHeight: 600,
    oddLeft: 126,
    evenLeft: 126,
    top: 128,
    headSeparation: 20,
    footSkip: 30,
    noteWidth: 60,
    noteSeparation: 10,
    columns: 1,
    columnSeparation: 10,
    isTwoSided: false,
    typeSize: 11,
    leading: 13.6,
    lineCharacters: 70,
    pageLines: 44,
    hasHead: false,
    hasFoot: true,
  };
  it('is measured in what one likes', () => {
    // ISO 216: A4 is 210 mm wide; an inch has 72.27 points (Knuth, The TeXbook, chapter 10).
    expect(measured(page.paperWidth, 'mm')).toBe('210 mm');
    expect(measured(72.27, 'in')).toBe('1.00 in');
    expect(measured(12.2, 'pt')).toBe('12 pt');
    expect(lengthNow('inner', page)).toBe('44.5 mm now');
    expect(lengthNow('outer', page)).toBe('44.5 mm now');
    expect(lengthNow('indent', page)).toBe(undefined);
    expect(lengthNow('inner', null)).toBe(undefined);
  });
  it('says how its lines read: 45 to 75 characters is common practice', () => {
    expect([40, 45, 75, 76, 95, 20].map(comfort)).toEqual([
      'short; good for columns',
      'comfortable (45 to 75)',
      'comfortable (45 to 75)',
      'long; 45 to 75 read at ease',
      'much too long to read at ease',
      'very short',
    ]);
  });
  it('says when the text leaves the paper, and doesn’t prevent it', () => {
    expect(strays(page)).toBe(null);
    expect(strays({ ...page, oddLeft: -5 })).toContain('outside');
    expect(strays({ ...page, textWidth: 500 })).toContain('wider');
    expect(strays({ ...page, textHeight: 800 })).toContain('higher');
  });
});

describe('examples of packages', () => {
  const guide = {
    lines: [
      { names: [{ name: 'toprule', form: '', isEnvironment: false }], says: '', example: '\\toprule' },
      {
        names: [{ name: 'includegraphics', form: '', isEnvironment: false }],
        says: '',
        example: '\\includegraphics{a}',
      },
      { names: [{ name: 'tabularx', form: '', isEnvironment: true }], says: '', example: '\\begin{tabularx}…' },
    ],
    packages: [
      { name: 'booktabs', commands: ['toprule'], environments: [] },
      { name: 'graphicx', commands: ['includegraphics'], environments: [] },
      { name: 'tabularx', commands: [], environments: ['tabularx'] },
    ],
  } as unknown as MarkupHelp;
  it('are of what they give, and need no file', () => {
    expect([...examplesOf(guide)]).toEqual([
      ['booktabs', '\\toprule'],
      ['tabularx', '\\begin{tabularx}…'],
    ]);
  });
  it('stand where they belong', () => {
    expect(pageOf('soul', '\\hl{x}')).toMatch(/\\usepackage\{soul\}[^]*\\begin\{document\}\n\\hl\{x\}/);
    expect(pageOf('hyperref', '\\hypersetup{a=b}')).toMatch(/\\hypersetup\{a=b\}\n\\begin\{document\}/);
    expect(pageOf('geometry', '\\geometry{left=1cm}').match(/\{geometry\}/g)).toHaveLength(1);
  });
});
