import { describe, expect, it } from 'vitest';
import { pictureOf, thingAt } from '../src/write/source/thingAt';

/** What is found at the place of a bar in a text. */
const at = (marked: string) => {
  const place = marked.indexOf('|');
  const text = marked.replace('|', '');
  const found = thingAt(text, place);
  return found && text.slice(found.from, found.to);
};

describe('what stands at a place', () => {
  it.each([
    ['Walls gr|ow old.', 'grow'],
    ['Walls grow |old.', 'old'],
    ['größ|er als', 'größer'],
    ['one |, two', ','],
    ['one | two', null],
    ['so $a + |b$ is', '$a + b$'],
    ['costs \\$5 and $x|$ more', '$x$'],
    ['$a$ in b|etween $c$', 'between'],
    ['a % $5\nand |more $x$', 'more'],
    ['$$a = |b$$ so', '$$a = b$$'],
    ['so \\(a + |b\\) is', '\\(a + b\\)'],
    ['\\[ a = |b \\]', '\\[ a = b \\]'],
    ['\\begin{align*} a &= b \\\\ |c &= d \\end{align*} x', '\\begin{align*} a &= b \\\\ c &= d \\end{align*}'],
    ['\\begin{equation}\\label{a}x\\end{equation} th|en \\begin{equation}y\\end{equation}', 'then'],
    [
      '\\centering\n  |\\includegraphics[width=0.8\\linewidth]{plan}\n',
      '\\includegraphics[width=0.8\\linewidth]{plan}',
    ],
    ['\\includegraphics{pl|an} and', '\\includegraphics{plan}'],
    // One that was never closed is none beyond its paragraph.
    ['lost $a\n\nNext pa|ragraph $b$', 'paragraph'],
  ])('%s', (marked, expected) => expect(at(marked)).toBe(expected));
});

describe('the picture beside words', () => {
  const text =
    'Before. \\begin{figure}\\includegraphics{one}\\caption{First}\\end{figure} Between.' +
    '\\begin{figure*}\\subfloat[Left]{\\includegraphics{two}}\\subfloat[Right]{\\includegraphics[x]{three}}\\caption{Both}\\end{figure*} After.';
  const of = (...words: string[]) => {
    const found = pictureOf(
      text,
      words.map((w) => text.indexOf(w)),
    );
    return found && text.slice(found.from, found.to);
  };
  it('is the one of the figure whose words these are', () => {
    expect(of('First')).toBe('\\includegraphics{one}');
    expect(of('Left')).toBe('\\includegraphics{two}');
    expect(of('Both')).toBe('\\includegraphics[x]{three}');
  });
  it('is that of the first words that stand in a figure, and none where none do', () => {
    expect(of('Between', 'First', 'Both')).toBe('\\includegraphics{one}');
    expect(of('Before', 'Between', 'After')).toBeNull();
  });
});
