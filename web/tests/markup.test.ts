import { describe, expect, it } from 'vitest';
import { markupLanguage } from '../src/write/markup';

/** What each stretch of a text is taken for. */
function kinds(text: string): string[] {
  const found: string[] = [];
  markupLanguage.parser.parse(text).iterate({
    enter: ({ name, from, to }) => {
      if (name !== 'Document') found.push(`${name.split(' ').at(-1)}:${text.slice(from, to)}`);
    },
  });
  return found;
}

describe('the markup’s colours', () => {
  it.each([
    ['\\label{eq:growth}', 'key:eq:growth'],
    ['\\textcite[see][12]{orme2008}', 'key:orme2008'],
    ['\\section{Early growth}', 'heading:Early growth'],
    ['\\section[Short]{Early growth}', 'heading:Early growth'],
    ['\\part{The walls}', 'heading:The walls'],
    ['\\begin{table}', 'name:table'],
    ['50 % of it', 'comment:% of it'],
  ])('%s', (text, wanted) => {
    expect(kinds(text)).toContain(wanted);
  });

  it('takes a formula for mathematics as far as it goes, and what follows for words', () => {
    const found = kinds('a $x+1$ b \\[y\\] c \\begin{align} z \\end{align} d');
    expect(found.filter((k) => k.startsWith('mathematics'))).toEqual([
      'mathematics:$x+1$',
      'mathematics:y',
      'mathematics:z \\end',
    ]);
  });

  it('ends what wasn’t closed at an empty line, as print does', () => {
    expect(kinds('a $x + 1\n\nwords $y$').filter((k) => k.includes('words'))).toEqual([]);
  });

  it('takes a percent sign with a backslash for a sign', () => {
    expect(kinds('50\\% of it').some((k) => k.startsWith('comment'))).toBe(false);
  });
});
