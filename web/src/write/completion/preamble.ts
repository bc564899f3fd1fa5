import type { Guide } from './guide';

const loading = /^[ \t]*\\(?:usepackage|RequirePackage)\s*(?:\[[^\]]*\])?\s*\{([^}]*)\}.*\n?/gm;

/** The packages that a text loads by itself. */
export const packagesIn = (text: string): string[] =>
  [...text.matchAll(loading)].flatMap((found) => found[1]!.split(',').map((p) => p.trim()));

/** The line that loads a package. */
export const loadingLine = (name: string) => `\\usepackage{${name}}\n`;

/**
 * Where a preamble is to load a package: after the others, but before those that must come after it. Null when the text has no
 * preamble, or loads it already.
 */
export function placeFor(text: string, name: string, guide: Guide | null): number | null {
  const begin = text.indexOf('\\begin{document}');
  if (begin < 0 || !text.includes('\\documentclass')) return null;
  const preamble = text.slice(0, begin);
  if (packagesIn(preamble).includes(name)) return null;
  let place: number | null = null;
  for (const found of preamble.matchAll(loading)) {
    const names = found[1]!.split(',').map((p) => p.trim());
    if (names.some((n) => guide?.packages.get(n)?.comesAfter.includes(name))) return found.index;
    place = found.index + found[0].length;
  }
  // Without any, before the document begins: what the preamble takes in from other files stands above.
  return place ?? begin;
}

/** Where a line that loads a package stands as it was put there; null when it doesn't. */
export function lineOf(text: string, name: string): { from: number; to: number } | null {
  const line = loadingLine(name);
  const at = text.indexOf(line);
  return at < 0 || (at > 0 && text[at - 1] !== '\n') ? null : { from: at, to: at + line.length };
}
