import { describe, expect, it } from 'vitest';
import { authorsOf, markupOf } from '../../src/setup/authors';

describe('authors', () => {
  it.each([
    ['Ilse Marrable', [['Ilse Marrable', '']]],
    [
      'Ilse Marrable \\\\ Hollin Edge \\and Bao Tremlett',
      [
        ['Ilse Marrable', 'Hollin Edge'],
        ['Bao Tremlett', ''],
      ],
    ],
    [
      'A\\thanks{Paid by \\emph{B \\and C}} \\\\[2pt] One \\\\ Two',
      [['A\\thanks{Paid by \\emph{B \\and C}}', 'One \\\\ Two']],
    ],
    ['{A \\\\ B}\\andreas', [['{A \\\\ B}\\andreas', '']]],
    ['A \\& B', [['A \\& B', '']]],
    ['', [['', '']]],
  ])('are read from %s', (markup, rows) => {
    expect(authorsOf(markup).map((a) => [a.name, a.institute])).toEqual(rows);
  });

  it('are written as they are read', () => {
    for (const markup of ['A', 'A \\\\ X \\and B', 'A \\\\ X \\\\ Y \\and B \\\\ Z'])
      expect(markupOf(authorsOf(markup))).toBe(markup);
    expect(
      markupOf([
        { name: ' ', institute: 'X' },
        { name: ' A ', institute: ' ' },
      ]),
    ).toBe('A');
  });
});
