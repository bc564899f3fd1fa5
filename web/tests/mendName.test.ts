import { describe, expect, it } from 'vitest';
import type { Repair } from '../src/api/client';
import { fieldMendName, mendName } from '../src/ui/mendName';

describe('the name of a mend', () => {
  it.each([
    ['\\emph', '\\emhp', 'Write \\emph'],
    ['', '\\label{sec:unused}', 'Delete the label'],
    ['', '}', 'Delete }'],
    ['}', '', 'Put } here'],
    ['\\usepackage{graphicx}\n', '', 'Load graphicx'],
    ['\n\\end{document}\n', '', 'Put \\end{document} here'],
    ['$\\left( \\frac{a}{b} \\right)^2$', '\\left( \\frac{a}{b} \\right)^2', 'Write $\\left( \\frac{a}{b} \\…'],
  ])('%j for %j', (text, words, name) => expect(mendName({ text, words })).toBe(name));
});

describe('the name of a mend that moves or makes something', () => {
  const also = (text: string) => ({ text }) as Repair;
  it('says what moves where, and which file is made', () => {
    expect(mendName({ text: '', words: '\\usepackage{a}', also: also('\\usepackage{a}\n') })).toBe('Move it up');
    expect(mendName({ text: '', words: '\\end{document}', also: also('\\end{document}\n') })).toBe(
      'Move \\end{document} down',
    );
    expect(mendName({ text: '', words: '', newFile: 'chapters/new.tex' })).toBe('Make chapters/new.tex');
  });
});

describe('the name of a mend of a field', () => {
  it('says what the field becomes', () =>
    expect(['1--9', 'Quill, Anton and Vane, Perpetua', ''].map(fieldMendName)).toEqual([
      'Write 1--9',
      'Write Quill, Anton and Vane…',
      'Empty the field',
    ]));
});
