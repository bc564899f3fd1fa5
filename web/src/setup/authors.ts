/** An author as `\\author` has them: a name, and below it what else stands there, such as an institute. */
export interface Author {
  name: string;
  institute: string;
}

/** The parts of some markup that a command parts, outside of braces. */
function parted(markup: string, command: RegExp): string[] {
  const parts: string[] = [];
  let depth = 0;
  let from = 0;
  for (let at = 0; at < markup.length; at++) {
    const sign = markup[at];
    if (sign === '{') depth++;
    else if (sign === '}') depth--;
    else if (sign === '\\') {
      command.lastIndex = at;
      const found = depth === 0 ? command.exec(markup) : null;
      if (found) {
        parts.push(markup.slice(from, at));
        at += found[0].length - 1;
        from = at + 1;
      } else at++;
    }
  }
  return [...parts, markup.slice(from)];
}

/** The authors that `\\author{…}` holds. */
export const authorsOf = (markup: string): Author[] =>
  parted(markup, /\\and(?![a-zA-Z])/y).map((one) => {
    const [name = '', ...lines] = parted(one, /\\\\(?:\[[^\]]*\])?/y);
    return { name: name.trim(), institute: lines.map((l) => l.trim()).join(' \\\\ ') };
  });

/** Authors as `\\author{…}` holds them; those without a name are left out. */
export const markupOf = (authors: readonly Author[]) =>
  authors
    .filter((a) => a.name.trim())
    .map((a) => (a.institute.trim() ? `${a.name.trim()} \\\\ ${a.institute.trim()}` : a.name.trim()))
    .join(' \\and ');
