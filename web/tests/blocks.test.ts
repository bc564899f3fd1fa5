import { Text } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import { foldAt, headingAbove, namesIn, partnerOf } from '../src/write/source/blocks';

const doc = (...lines: string[]) => Text.of(lines);

/** What is folded at a line: the number of the line that stays, and the last one that goes. */
function folded(text: Text, line: number): [number, number] | null {
  const found = foldAt(text, line);
  return found && [text.lineAt(found.from).number, text.lineAt(found.to).number];
}

/** The lines on which the ends of the environments stand that begin or end on a line. */
const partners = (text: Text, line: number) =>
  namesIn(text.line(line).text, text.line(line).from).map((n) => {
    const other = partnerOf(text, n);
    return other && text.lineAt(other.from).number;
  });

describe('what folds', () => {
  const chapter = doc(
    '\\chapter{Walls}', // 1
    'Words.',
    '\\section{North}', // 3
    'More.',
    '\\subsection{Far}', // 5
    'Last.',
    '', // 7
    '\\section*{South}', // 8
    'End.',
    '\\appendix', // 10
    '\\chapter{Tables}',
    'Rows.',
  );

  it('folds a section with those under it, up to the next one of its level, without the empty lines before that', () => {
    expect(folded(chapter, 1)).toEqual([1, 9]);
    expect(folded(chapter, 3)).toEqual([3, 6]);
    expect(folded(chapter, 5)).toEqual([5, 6]);
    expect(folded(chapter, 8)).toEqual([8, 9]);
    expect(folded(chapter, 11)).toEqual([11, 12]);
    expect(folded(chapter, 2)).toBeNull();
  });

  it('ends the last section before the end of the document', () => {
    expect(folded(doc('\\section{A}', 'b', '\\end{document}'), 1)).toEqual([1, 2]);
    expect(folded(doc('\\section{A}', '\\section{B}'), 1)).toBeNull();
  });

  it('folds an environment between its ends, and leaves alone what is left open', () => {
    const text = doc(
      '\\begin{figure}',
      ' \\begin{center}',
      '  x',
      ' \\end{center}',
      '\\end{figure}',
      '\\begin{open}',
      'x',
    );
    expect(folded(text, 1)).toEqual([1, 4]);
    expect(folded(text, 2)).toEqual([2, 3]);
    expect(folded(text, 6)).toBeNull();
    expect(folded(doc('\\begin{center} x \\end{center}', 'y'), 1)).toBeNull();
  });

  it('folds comments that follow one another, at the first', () => {
    const text = doc('a', '% one', '  % two', '% three', 'b', '% alone');
    expect(folded(text, 2)).toEqual([2, 4]);
    expect(folded(text, 3)).toBeNull();
    expect(folded(text, 6)).toBeNull();
  });

  it('finds the heading above a line', () => {
    expect([headingAbove(chapter, 7), headingAbove(chapter, 8), headingAbove(doc('a', 'b'), 2)]).toEqual([5, 8, 0]);
  });
});

describe('the ends of environments', () => {
  it('pairs those of one name from the inside out, both ways', () => {
    const text = doc('\\begin{itemize}', '\\item \\begin{itemize}', '\\item x', '\\end{itemize}', '\\end{itemize}');
    expect([1, 2, 4, 5].map((l) => partners(text, l)[0])).toEqual([5, 4, 2, 1]);
  });

  it('takes neither comments nor printed markup for ends', () => {
    const text = doc(
      '\\begin{quote}',
      '% \\end{quote}',
      '\\begin{verbatim}',
      '\\end{quote} \\begin{verbatim}',
      '\\end{verbatim}',
      '50\\% \\end{quote}',
    );
    expect(partners(text, 1)).toEqual([6]);
    expect(partners(text, 6)).toEqual([1]);
    expect(partners(text, 3)).toEqual([5]);
    expect(partners(text, 5)).toEqual([3]);
    expect(partners(text, 2)).toEqual([]);
  });

  it('has no partner for one that is left open or misspelt', () => {
    const text = doc('\\begin{itemise}', 'x', '\\end{itemize}');
    expect([partners(text, 1), partners(text, 3)]).toEqual([[null], [null]]);
  });

  it('reads a long text without a wait', () => {
    const lines = Array.from({ length: 6000 }, (_, i) =>
      i % 50 === 0 ? `\\section{S${i}}` : 'Words of a wall, with \\emph{some} set off.',
    );
    const text = Text.of(['\\begin{document}', ...lines, '\\end{document}']);
    const begun = performance.now();
    for (let i = 0; i < 10; i++) partners(text, 1);
    // Within what a key may take, on a machine that others share.
    expect((performance.now() - begun) / 10).toBeLessThan(40);
  });
});
