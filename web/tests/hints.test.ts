import { EditorState } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import { environmentAround } from '../src/write/source/blocks';
import { hintAt, hints } from '../src/write/source/hints';

const at = (text: string) => {
  const place = text.indexOf('|');
  return hintAt(EditorState.create({ doc: text.replace('|', '') }), place);
};
const within = (words: string, environment = 'document') => `\\begin{${environment}}\n${words}`;

describe('hints for newcomers', () => {
  it('say that a line’s end begins no paragraph, where words go on in the next line', () => {
    expect(at(within('Some words end here.\nN|'))).toBe('line end');
    expect(at(within('Some words end here.\n\nN|'))).toBeNull();
    expect(at(within('Some words end here.\nNo|'))).toBeNull();
    expect(at(within('\\section{Some words}\nN|'))).toBeNull();
    expect(at(within('word\nN|'))).toBeNull();
    expect(at('Some words end here.\nN|')).toBe('line end');
    expect(at('\\documentclass{article}\nSome words end here.\nN|')).toBeNull();
  });
  it('say that \\\\ begins no paragraph, but not where it ends a row or a line', () => {
    expect(at(within('Some words end here.\\\\|'))).toBe('line break');
    expect(at(within('Some & words \\\\|', 'tabular'))).toBeNull();
    expect(at(within('Some words \\\\|', 'verse'))).toBeNull();
    expect(at(within('a = b \\\\|', 'align*'))).toBeNull();
  });
  it('say what to do instead', () => {
    for (const words of Object.values(hints)) expect(words).toMatch(/empty line/);
    expect(hints['line break']).toMatch(/^\\\\ breaks/);
  });
});

describe('the environment around a place', () => {
  const around = (text: string) => {
    const place = text.indexOf('|');
    return environmentAround(EditorState.create({ doc: text.replace('|', '') }).doc, place);
  };
  it('is the innermost that isn’t ended', () => {
    expect(around('\\begin{a}\n\\begin{b}\n\\end{b}\n|')).toBe('a');
    expect(around('\\begin{a}\n\\begin{b} x|\n\\end{b}')).toBe('b');
    expect(around('\\begin{a}\\end{a}|')).toBeNull();
    expect(around('% \\begin{a}\n|')).toBeNull();
  });
});
