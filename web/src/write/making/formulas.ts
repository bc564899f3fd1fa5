import type { Text } from '@codemirror/state';
import { wholeAround, type Stretch } from '../source/blocks';

/** How a formula stands. */
export type FormulaPlace = 'line' | 'display' | 'numbered' | 'own';

/** A formula of a text, taken apart. */
export interface Formula extends Stretch {
  place: FormulaPlace;
  /** What begins and ends it. */
  open: string;
  close: string;
  body: string;
}

/** What begins and ends a formula at its place. */
export const frames: Record<Exclude<FormulaPlace, 'own'>, { open: string; close: string }> = {
  line: { open: '\\(', close: '\\)' },
  display: { open: '\\[\n  ', close: '\n\\]' },
  numbered: { open: '\\begin{equation}\n  ', close: '\n\\end{equation}' },
};

const environments = /^(math|displaymath|equation|align|gather|multline|eqnarray|flalign|alignat)\*?$/;
const inText = /\\\[([\s\S]*?)\\\]|\\\(([\s\S]*?)\\\)|\$\$([\s\S]*?)\$\$|\$((?:\\[\s\S]|[^$\\])+)\$/g;

/** The formula around a place; null when there is none. */
export function formulaAround(doc: Text, at: number): Formula | null {
  const whole = wholeAround(doc, at, (name) => environments.test(name));
  if (whole) {
    const text = doc.sliceString(whole.from, whole.to);
    const begin = /^\\begin\s*\{[^}]*\}(?:\{[^}]*\})?\s*/.exec(text)![0];
    const end = /\s*\\end\s*\{[^}]*\}$/.exec(text)![0];
    const body = text.slice(begin.length, Math.max(begin.length, text.length - end.length));
    return { ...whole, place: whole.name === 'equation' ? 'numbered' : 'own', open: begin, close: end, body };
  }
  // A paragraph holds all of it.
  let first = doc.lineAt(at).number;
  let last = first;
  while (first > 1 && doc.line(first - 1).text.trim()) first--;
  while (last < doc.lines && doc.line(last + 1).text.trim()) last++;
  const { from } = doc.line(first);
  const text = doc.sliceString(from, doc.line(last).to);
  for (const found of text.matchAll(inText)) {
    const start = from + found.index;
    const end = start + found[0].length;
    if (at <= start || at >= end || text[found.index - 1] === '\\') continue;
    const written = found[1] ?? found[2] ?? found[3] ?? found[4]!;
    const body = written.trim();
    const open = found[0].slice(0, found[0].indexOf(written) + written.indexOf(body));
    const isLine = found[0].startsWith('\\(') || (found[0].startsWith('$') && !found[0].startsWith('$$'));
    return {
      from: start,
      to: end,
      place: isLine ? 'line' : 'display',
      open,
      close: found[0].slice(open.length + body.length),
      body,
    };
  }
  return null;
}

/** Structures of formulas: what is put in, with the fields that Tab leads through. */
export const structures = [
  { name: 'Fraction', sign: 'a/b', template: '\\frac{${}}{${}}' },
  { name: 'Power', sign: 'xⁿ', template: '^{${}}' },
  { name: 'Index', sign: 'xₙ', template: '_{${}}' },
  { name: 'Root', sign: '√', template: '\\sqrt{${}}' },
  { name: 'Sum', sign: '∑', template: '\\sum_{${i=1}}^{${n}} ${}' },
  { name: 'Integral', sign: '∫', template: '\\int_{${a}}^{${b}} ${} \\,d${x}' },
  { name: 'Limit', sign: 'lim', template: '\\lim_{${n \\to \\infty}} ${}' },
  { name: 'Parentheses', sign: '( )', template: '\\left( ${} \\right)' },
  { name: 'Mean', sign: 'x̄', template: '\\bar{${}}' },
  { name: 'Vector', sign: 'x⃗', template: '\\vec{${}}' },
  { name: 'Words', sign: 'Aa', template: '\\text{${}}' },
  {
    name: 'Matrix',
    sign: '[ ]',
    template: '\\begin{pmatrix}\n  ${} & ${} \\\\\n  ${} & ${}\n\\end{pmatrix}',
  },
  {
    name: 'Cases',
    sign: '{',
    template: '\\begin{cases}\n  ${} & \\text{if } ${} \\\\\n  ${} & \\text{otherwise}\n\\end{cases}',
  },
  {
    name: 'Lines in step',
    sign: '=',
    template: '\\begin{aligned}\n  ${} &= ${} \\\\\n  &= ${}\n\\end{aligned}',
  },
] as const;

/** The packages that a formula needs. */
export const formulaNeeds = (text: string): string[] =>
  /\\(text|begin\{(pmatrix|bmatrix|vmatrix|cases|aligned|align|gather|split|multline)\*?\}|dfrac|tfrac|binom|iint)/.test(
    text,
  )
    ? ['amsmath']
    : [];
