import type { Text } from '@codemirror/state';

/** A stretch of a text. */
export interface Stretch {
  from: number;
  to: number;
}

/** The name in a `\begin{…}` or `\end{…}`. */
export interface EnvironmentName extends Stretch {
  name: string;
  isEnd: boolean;
}

/** From the largest to the smallest. */
const levels = ['part', 'chapter', 'section', 'subsection', 'subsubsection', 'paragraph', 'subparagraph'];

/** What stands in these isn't markup until their end. */
const verbatim = /^(verbatim\*?|Verbatim|lstlisting|minted|comment|filecontents\*?)$/;

const heading = new RegExp(String.raw`^\s*\\(${levels.join('|')})\*?\s*[[{]`);
const environment = /\\(begin|end)\s*\{([^{}%\\]*)\}/g;

/** A line without its comment. */
function withoutComment(line: string): string {
  for (let at = line.indexOf('%'); at >= 0; at = line.indexOf('%', at + 1)) {
    let slashes = 0;
    while (line[at - 1 - slashes] === '\\') slashes++;
    if (slashes % 2 === 0) return line.slice(0, at);
  }
  return line;
}

/** The names of environments in a line, from left to right. */
export function namesIn(line: string, from: number): EnvironmentName[] {
  return [...withoutComment(line).matchAll(environment)].map((found) => {
    const start = from + found.index + found[0].length - 1 - found[2]!.length;
    return { name: found[2]!, isEnd: found[1] === 'end', from: start, to: start + found[2]!.length };
  });
}

/** The level of the heading that a line begins with, 0 for parts; −1: it begins with none. */
export const levelOf = (line: string) => levels.indexOf(heading.exec(line)?.[1] ?? '');

const isComment = (line: string) => /^\s*%/.test(line);

/** The name at the other end of an environment; null when it has none. Environments of the same name within it are passed over. */
export function partnerOf(doc: Text, of: EnvironmentName): EnvironmentName | null {
  return of.isEnd ? before(doc, of) : after(doc, of);
}

function after(doc: Text, of: EnvironmentName): EnvironmentName | null {
  const first = doc.lineAt(of.from).number;
  let depth = 0;
  // Within what isn't markup only its own end counts.
  let inside = verbatim.test(of.name) ? of.name : '';
  for (let number = first; number <= doc.lines; number++) {
    const { text, from } = doc.line(number);
    if (!text.includes('\\')) continue;
    for (const found of namesIn(text, from)) {
      if (found.from <= of.from) continue;
      if (inside) {
        if (!found.isEnd || found.name !== inside) continue;
        if (inside === of.name) return found;
        inside = '';
      } else if (!found.isEnd && verbatim.test(found.name)) inside = found.name;
      else if (found.name === of.name) {
        if (found.isEnd && depth-- === 0) return found;
        if (!found.isEnd) depth++;
      }
    }
  }
  return null;
}

// Backwards an environment that isn't markup can't be told from its end alone: the whole text before decides.
function before(doc: Text, of: EnvironmentName): EnvironmentName | null {
  const last = doc.lineAt(of.from).number;
  const open: EnvironmentName[] = [];
  let inside: EnvironmentName | null = null;
  for (let number = 1; number <= last; number++) {
    const { text, from } = doc.line(number);
    if (!text.includes('\\')) continue;
    for (const found of namesIn(text, from)) {
      if (found.from === of.from)
        return inside?.name === of.name ? inside : (open.findLast((o) => o.name === of.name) ?? null);
      if (inside) {
        if (found.isEnd && found.name === inside.name) inside = null;
      } else if (!found.isEnd) {
        if (verbatim.test(found.name)) inside = found;
        else open.push(found);
      } else {
        const at = open.findLastIndex((o) => o.name === found.name);
        if (at >= 0) open.splice(at, 1);
      }
    }
  }
  return null;
}

/** What can be folded at a line: a section, an environment, a run of comments; null where there is nothing. */
export function foldAt(doc: Text, number: number): Stretch | null {
  const line = doc.line(number);
  const level = levelOf(line.text);
  if (level >= 0) return section(doc, number, level);
  const begin = namesIn(line.text, line.from).findLast((n) => !n.isEnd);
  if (begin) {
    const end = partnerOf(doc, begin);
    const last = end && doc.lineAt(end.from);
    // Its \begin and its \end stay in view.
    return last && last.number > number + 1 ? { from: line.to, to: last.from - 1 } : null;
  }
  if (isComment(line.text) && (number === 1 || !isComment(doc.line(number - 1).text))) {
    let last = number;
    while (last < doc.lines && isComment(doc.line(last + 1).text)) last++;
    return last > number ? { from: line.to, to: doc.line(last).to } : null;
  }
  return null;
}

function section(doc: Text, number: number, level: number): Stretch | null {
  let last = number;
  for (let next = number + 1; next <= doc.lines; next++) {
    const { text } = doc.line(next);
    if (text.includes('\\')) {
      const other = levelOf(text);
      if (
        (other >= 0 && other <= level) ||
        /^\s*\\(end\s*\{document\}|appendix\b|bibliography\b|printbibliography\b)/.test(text)
      )
        break;
    }
    if (text.trim()) last = next;
  }
  return last > number ? { from: doc.line(number).to, to: doc.line(last).to } : null;
}

/** The last line at or above a line that begins with a heading; 0: there is none. */
export function headingAbove(doc: Text, number: number): number {
  for (let at = number; at > 0; at--) {
    const { text } = doc.line(at);
    if (text.includes('\\') && levelOf(text) >= 0) return at;
  }
  return 0;
}

/** Where the innermost environment is begun that isn't ended before a place; null when there is none. */
export function begunAround(doc: Text, at: number): EnvironmentName | null {
  const closed = new Map<string, number>();
  for (let number = doc.lineAt(at).number; number > 0; number--) {
    const { text, from } = doc.line(number);
    if (!text.includes('\\')) continue;
    for (const found of namesIn(text, from).reverse()) {
      if (found.from >= at) continue;
      const ends = closed.get(found.name) ?? 0;
      if (found.isEnd) closed.set(found.name, ends + 1);
      else if (ends > 0) closed.set(found.name, ends - 1);
      else return found;
    }
  }
  return null;
}

/** The name of the innermost environment around a place; null when there is none. */
export const environmentAround = (doc: Text, at: number): string | null => begunAround(doc, at)?.name ?? null;

/** An environment of one of some names around a place, from its `\begin` to behind its `\end`; the innermost one that has an end. */
export function wholeAround(
  doc: Text,
  at: number,
  isWanted: (name: string) => boolean,
): (Stretch & { name: string }) | null {
  for (let begun = begunAround(doc, at); begun; begun = begunAround(doc, begun.from - 1)) {
    const end = isWanted(begun.name) ? partnerOf(doc, begun) : null;
    const line = doc.lineAt(begun.from);
    const from = line.from + line.text.lastIndexOf('\\begin', begun.from - line.from);
    if (end && end.to + 1 >= at) return { name: begun.name, from, to: end.to + 1 };
  }
  return null;
}
