import { snippet } from '@codemirror/autocomplete';
import { EditorState, Text } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import type { Manuscript, MarkupHelp, Report } from '../src/api/client';
import { Guide } from '../src/write/completion/guide';
import { optionAt } from '../src/write/completion/optionAt';
import { pointedAt } from '../src/write/completion/pointed';
import * as offers from '../src/write/completion/offers';
import { lineOf, packagesIn, placeFor } from '../src/write/completion/preamble';
import { commandTemplate, environmentTemplate } from '../src/write/completion/template';
import { isInFormula, wantedAfter } from '../src/write/completion/wanted';
import { definitionOf } from '../src/write/useNames';
import { endWithIt, overEnd } from '../src/write/source/closing';

const line = (written: string, says: string) => ({
  names: written.split(' ').map((w) => {
    const [, slash, name, form] = /^(\\?)([A-Za-z]+\*?)(.*)$/.exec(w)!;
    return { name: name!, form: form!, isEnvironment: !slash };
  }),
  says,
  example: written,
});
const pack = (name: string, more: Partial<MarkupHelp['packages'][number]>) => ({
  name,
  purpose: `${name} gives something.`,
  commands: [],
  environments: [],
  options: [],
  requires: [],
  comesAfter: [],
  clashes: [],
  group: 'Text',
  ...more,
});
const guide = new Guide({
  lines: [
    line('\\emph{words} \\section[short]{title}', 'a'),
    line('\\cref{keys} \\citet{keys}', 'b'),
    line('figure', 'c'),
  ],
  symbols: [{ name: 'alpha', sign: 'α', words: '', kind: 'other' }],
  packages: [
    pack('cleveref', { commands: ['cref'], comesAfter: ['hyperref'] }),
    pack('natbib', { commands: ['citet'], clashes: ['biblatex'] }),
    pack('biblatex', {}),
    pack('graphicx', { requires: ['graphics'] }),
    pack('graphics', { options: ['draft'] }),
    pack('hyperref', {}),
  ],
  classes: [{ name: 'article', purpose: 'Papers.', options: ['11pt'] }],
  options: [
    {
      of: ['hyperref', '\\hypersetup'],
      options: [
        { name: 'colorlinks', values: ['true', 'false'], takes: '' },
        { name: 'hidelinks', values: [], takes: '' },
        { name: 'linkcolor', values: [], takes: 'colour' },
      ],
    },
  ],
});
const report = {
  class: 'article',
  packages: [{ name: 'biblatex', known: true }],
  definitions: [
    { kind: 'command', name: 'wall', form: '[1]{2}', text: 'the wall', file: 'main.tex', line: 3 },
    { kind: 'colour', name: 'moss', form: '', text: 'RGB', file: 'main.tex', line: 4 },
  ],
  uses: { '\\emph': 30 },
  outline: [{ level: 1, number: '2.1', title: 'Method', file: 'a.tex', line: 4, words: 0, page: '1', sheet: 1 }],
  labels: [
    { key: 'sec:m', kind: 'section', number: '2.1', page: '1', sheet: 1, file: 'a.tex', line: 4, uses: 1 },
    { key: 'eq:x', kind: 'equation', number: '2.1', page: '1', sheet: 1, file: 'a.tex', line: 6, uses: 0 },
    { key: 'fig:p', kind: 'figure', number: '3', page: '2', sheet: 2, file: 'a.tex', line: 9, uses: 0 },
  ],
  floats: [{ kind: 'figure', number: '3', caption: 'The plan.', page: '2' }],
} as unknown as Report;
const manuscript = {
  id: 7,
  mainFile: 'main.tex',
  files: [
    { id: 1, path: 'main.tex' },
    { id: 2, path: 'chapters/one.tex' },
    { id: 3, path: 'figures/plan.png' },
    { id: 4, path: 'sources.bib' },
    { id: 5, path: 'walls.csv' },
  ],
} as unknown as Manuscript;
const known = { guide, report, manuscript };
const labelsOf = (all: offers.Offer[]) => all.map((o) => o.label);

describe('what is wanted at a place', () => {
  it.each([
    ['Some \\emp', { kind: 'command', typed: 'emp' }],
    ['\\\\emp', null],
    ['\\begin{fig', { kind: 'environment', typed: 'fig', isEnd: false }],
    ['\\end{', { kind: 'environment', typed: '', isEnd: true }],
    ['see \\ref{sec:', { kind: 'label', typed: 'sec:' }],
    ['see \\cref{a, b', { kind: 'label', typed: 'b' }],
    ['\\hyperref[se', { kind: 'label', typed: 'se' }],
    ['\\include{chap', { kind: 'file', typed: 'chap', of: 'text' }],
    ['\\includegraphics[width=1cm]{pl', { kind: 'file', typed: 'pl', of: 'picture' }],
    ['\\includepdf[pages=-]{pap', { kind: 'file', typed: 'pap', of: 'picture' }],
    ['\\bibliography{a,s', { kind: 'file', typed: 's', of: 'sources' }],
    ['\\usepackage[x]{nat', { kind: 'package', typed: 'nat' }],
    ['\\documentclass{', { kind: 'class', typed: '' }],
    ['\\documentclass[11pt,a4', { kind: 'classOption', typed: 'a4' }],
    ['\\setcounter{pa', { kind: 'counter', typed: 'pa' }],
    ['\\textcolor{mo', { kind: 'colour', typed: 'mo' }],
    ['\\gls{gi', { kind: 'entry', typed: 'gi' }],
    ['\\cite{ho', null],
    ['plain words', null],
  ])('%j', (before, wanted) => expect(wantedAfter(before)).toEqual(wanted));
});

describe('where an option is wanted', () => {
  it.each([
    ['\\usepackage[mar|]{geometry}', { of: 'geometry', option: null, typed: 'mar' }],
    ['\\usepackage[a4paper,\n  top=2cm,\n  in|\n]{geometry}', { of: 'geometry', option: null, typed: 'in' }],
    ['\\usepackage[mar|', null],
    ['\\usepackage[style=auth|]{biblatex}', { of: 'biblatex', option: 'style', typed: 'auth' }],
    ['\\hypersetup{pdftitle={A, b},\n  colorlinks = |}', { of: '\\hypersetup', option: 'colorlinks', typed: '' }],
    ['\\hypersetup{pdftitle={A|}}', null],
    ['\\captionsetup[figure]{label|}', { of: '\\captionsetup', option: null, typed: 'label' }],
    ['\\begin{itemize}[no|]', { of: '{itemize}', option: null, typed: 'no' }],
    ['\\includegraphics[width=0.5\\line|]{a}', null],
    ['\\emph{word|}', { of: '\\emph', option: null, typed: 'word' }],
    // Options in brackets aren't what the braces hold.
    ['\\includegraphics[wid|]{a}', { of: '\\includegraphics[]', option: null, typed: 'wid' }],
    ['\\includegraphics[width=1cm]{pic|}', { of: '\\includegraphics', option: null, typed: 'pic' }],
    ['\\hypersetup{a\n\nco|', null],
    ['\\{no|', null],
  ])('%j', (text, place) => {
    const at = text.indexOf('|');
    expect(optionAt(text.slice(0, at), text.slice(at + 1))).toEqual(place);
  });
});

describe('formulas', () => {
  it.each([
    ['It is $a + |b$', true],
    ['It is $a$ and |', false],
    ['5\\$ and |', false],
    ['\\begin{align}\n  a &= |\n\\end{align}', true],
    ['\\begin{align}\n  a\n\\end{align}\n|', false],
    ['\\[ a |\\]', true],
    ['\\(a\\) |', false],
    ['cost $5\n\nNext |', false],
    ['\\begin{figure}\n|\n\\end{figure}', false],
  ])('%j', (text, is) => expect(isInFormula(Text.of(text.replace('|', '').split('\n')), text.indexOf('|'))).toBe(is));
});

describe('what is offered', () => {
  it('has one’s own commands, and says what would have to be loaded and what clashes', () => {
    const all = new Map(offers.commands(known, false).map((o) => [o.label, o]));
    expect(all.get('\\wall')).toMatchObject({ detail: 'yours', help: { form: '[1]{2}' } });
    expect(all.get('\\cref')).toMatchObject({ needs: 'cleveref', detail: 'loads cleveref' });
    expect(all.get('\\citet')).toMatchObject({ needs: 'natbib', clash: 'biblatex' });
    expect(all.get('\\emph')!.boost!).toBeGreaterThan(all.get('\\section')!.boost!);
    expect(all.get('\\section')!.boost!).toBeGreaterThan(all.get('\\cref')!.boost!);
  });

  it('puts signs of formulas first where one is', () => {
    const boost = (inFormula: boolean) => offers.commands(known, inFormula).find((o) => o.label === '\\alpha')!.boost!;
    expect([boost(true) > 0, boost(false) < 0]).toEqual([true, true]);
  });

  it('says what a label names', () => {
    expect(offers.labels(report).map((o) => [o.label, o.detail])).toEqual([
      ['sec:m', 'section 2.1 · Method'],
      ['eq:x', 'equation 2.1'],
      ['fig:p', 'figure 3 · The plan.'],
    ]);
    expect(offers.labels(null)).toEqual([]);
  });

  it('names files as the markup does', () => {
    expect(labelsOf(offers.files(known, 'text'))).toEqual(['chapters/one']);
    expect(offers.files(known, 'picture')).toEqual([
      { label: 'figures/plan.png', picture: '/api/manuscripts/7/files/3/content' },
    ]);
    expect(labelsOf(offers.files(known, 'sources'))).toEqual(['sources.bib']);
    expect(labelsOf(offers.files(known, 'data'))).toContain('walls.csv');
  });

  it('has the manuscript’s own names before those that are always there', () => {
    expect(labelsOf(offers.colours(known)).slice(0, 2)).toEqual(['moss', 'black']);
    expect(labelsOf(offers.classOptions(known))).toEqual(['11pt']);
    expect(offers.packages(known).find((o) => o.label === 'natbib')!.detail).toBe('clashes with biblatex');
  });

  it('has the options of a package in order of use, with what each takes, and their values', () => {
    const of = (of: string, option: string | null = null) => offers.options(known, { of, option });
    expect(of('hyperref')!.map((o) => [o.label, o.detail, o.takesValue])).toEqual([
      ['colorlinks', 'true false', true],
      ['hidelinks', '', false],
      ['linkcolor', 'colour', true],
    ]);
    expect(labelsOf(of('\\hypersetup', 'colorlinks')!)).toEqual(['true', 'false']);
    expect(labelsOf(of('\\hypersetup', 'linkcolor')!)[0]).toBe('moss');
    expect(labelsOf(of('graphics')!)).toEqual(['draft']);
    expect([of('\\emph'), of('hyperref', 'none'), of('graphics', 'draft')]).toEqual([null, null, null]);
  });

  it('has what packages load along', () => expect([...guide.loaded(['graphicx'])]).toEqual(['graphicx', 'graphics']));
});

describe('loading a package', () => {
  const preamble = '\\documentclass{article}\n\\usepackage[a]{graphicx, amsmath}\n\\usepackage{cleveref} % last\n';
  const text = `${preamble}\\begin{document}\n\\usepackage{never}\n\\end{document}\n`;
  it('goes behind the others, but before what must come after it', () => {
    expect(placeFor(text, 'xcolor', guide)).toBe(preamble.length);
    expect(placeFor(text, 'hyperref', guide)).toBe(text.indexOf('\\usepackage{cleveref}'));
    expect(placeFor(text, 'amsmath', guide)).toBeNull();
    expect(placeFor('\\section{x}', 'amsmath', guide)).toBeNull();
    expect(placeFor('\\documentclass{article}\n\\begin{document}', 'x', guide)).toBe(24);
    expect(packagesIn(preamble)).toEqual(['graphicx', 'amsmath', 'cleveref']);
  });
  it('is taken back by its own line only', () => {
    expect(lineOf('a\n\\usepackage{x}\nb', 'x')).toEqual({ from: 2, to: 17 });
    expect(lineOf('\\usepackage{x} % mine\n', 'x')).toBeNull();
    expect(lineOf('% \\usepackage{x}\n', 'x')).toBeNull();
  });
});

describe('what is put in', () => {
  const put = (template: string) => {
    let state = EditorState.create({ doc: '' });
    snippet(template)({ state, dispatch: (t) => (state = t.state) }, null, 0, 0);
    return [state.doc.toString(), state.sliceDoc(state.selection.main.from, state.selection.main.to)];
  };
  it('has fields for the arguments that must be there', () => {
    expect(put(commandTemplate({ name: 'section', form: '[short]{title}' }))).toEqual(['\\section{title}', 'title']);
    expect(put(commandTemplate({ name: 'alpha', form: '' }))).toEqual(['\\alpha', '']);
    expect(put(commandTemplate({ name: 'verb', form: '|text|' }))).toEqual(['\\verb||', '']);
  });
  it('brings the end of an environment, and what it is begun with', () => {
    expect(put(`\\begin{${environmentTemplate({ name: 'quote', form: '' })}`)[0]).toBe(
      '\\begin{quote}\n  \n\\end{quote}',
    );
    expect(put(`\\begin{${environmentTemplate({ name: 'table', form: '' })}`)[0]).toContain(
      '  \\begin{tabular}{ll}\n     & \\\\\n  \\end{tabular}\n\\end{table}',
    );
  });
});

describe('Enter behind a beginning', () => {
  const press = (text: string) => {
    const at = text.indexOf('|');
    let state = EditorState.create({ doc: text.replace('|', ''), selection: { anchor: at } });
    const did = endWithIt({ state, dispatch: (t) => (state = t.state) });
    return did ? `${state.sliceDoc(0, state.selection.main.head)}|${state.sliceDoc(state.selection.main.head)}` : null;
  };
  it('writes the end that is not there yet', () => {
    expect(press('  \\begin{quote}|')).toBe('  \\begin{quote}\n    |\n  \\end{quote}');
    expect(press('\\begin{align*}|')).toBe('\\begin{align*}\n  |\n\\end{align*}');
    expect(press('\\begin{tabular}{lr}|\nmore')).toBe('\\begin{tabular}{lr}\n  |\n\\end{tabular}\nmore');
  });
  it('leaves alone what has its end, and other places', () => {
    expect(press('\\begin{quote}|\n\\end{quote}')).toBeNull();
    expect(press('\\begin{quote} words|')).toBeNull();
    expect(press('\\begin{document}|')).toBeNull();
  });
});

describe('an end that is written by hand', () => {
  const close = (text: string) => {
    const at = text.indexOf('|');
    const state = EditorState.create({ doc: text.replace('|', ''), selection: { anchor: at } });
    const change = overEnd(state, at, at);
    if (!change) return null;
    const { state: after } = state.update(change);
    return `${after.sliceDoc(0, after.selection.main.head)}|${after.sliceDoc(after.selection.main.head)}`;
  };
  it('takes the place of the one that is there already', () => {
    expect(close('  \\begin{quote}\n    words\n    \\end{quote|}\n  \\end{quote}\nmore')).toBe(
      '  \\begin{quote}\n    words\n  \\end{quote}|\nmore',
    );
    expect(close('\\begin{align*} a \\end{align*|\n\\end{align*}')).toBe('\\begin{align*} a \\end{align*}|');
  });
  it('is one of its own where the other one belongs to something', () => {
    expect(close('\\begin{quote}\n\\begin{quote}\na\n\\end{quote|}\n\\end{quote}')).toBeNull();
    expect(close('\\begin{quote}\n\\end{quote|}\n\\end{center}')).toBeNull();
    expect(close('\\emph{a|}')).toBeNull();
  });
});

describe('what is under the pointer', () => {
  it.each([
    ['see \\cref{a,bc} there', 13, { kind: 'label', name: 'bc', from: 12, to: 14 }],
    ['\\label{sec:x}', 9, { kind: 'label', name: 'sec:x', from: 7, to: 12 }],
    ['\\begin{figure*}', 8, { kind: 'environment', name: 'figure*', from: 7, to: 14 }],
    ['a \\emph{b}', 4, { kind: 'command', name: 'emph', from: 2, to: 7 }],
    ['a \\\\emph', 6, null],
    ['words', 2, null],
    ['\\crefrange{a}{bc}', 15, { kind: 'label', name: 'bc', from: 14, to: 16 }],
    ['\\hyperref[sec:a]{x}', 11, { kind: 'label', name: 'sec:a', from: 10, to: 15 }],
    ['\\citep[p. 7]{holm, stein}', 20, { kind: 'source', name: 'stein', from: 19, to: 24 }],
    ['\\input{chapters/one}', 9, { kind: 'file', name: 'chapters/one', from: 7, to: 19 }],
    ['\\cref{ref}', 7, { kind: 'label', name: 'ref', from: 6, to: 9 }],
    ['\\ref{}', 3, { kind: 'command', name: 'ref', from: 0, to: 4 }],
  ])('%j at %i', (text, at, found) => expect(pointedAt(text, at)).toEqual(found));
});

describe('where a name is defined', () => {
  const where = (kind: string, name: string) =>
    definitionOf({ kind, name, from: 0, to: 0 } as never, report, manuscript);
  it('is the line of the label, of the definition, or the file', () => {
    expect(where('label', 'fig:p')).toEqual({ file: 'a.tex', line: 9 });
    expect(where('command', 'wall')).toEqual({ file: 'main.tex', line: 3 });
    expect(where('command', 'emph')).toBeNull();
    expect(where('label', 'nowhere')).toBeNull();
  });
  it('opens texts, by their names with or without an ending', () => {
    const files = { ...manuscript, files: manuscript.files.map((f) => ({ ...f, isText: !f.path.endsWith('png') })) };
    const open = (name: string) => definitionOf({ kind: 'file', name, from: 0, to: 0 }, report, files)?.file;
    expect(['chapters/one', 'main.tex', 'figures/plan', 'none'].map(open)).toEqual([
      'chapters/one.tex',
      'main.tex',
      undefined,
      undefined,
    ]);
  });
});
