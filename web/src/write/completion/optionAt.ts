/** A place in a list of options. */
export interface OptionPlace {
  /** What takes them: a package by its name, a command with its backslash (and `[]` where they stand in brackets), an environment in braces. */
  of: string;
  /** The option whose value is being written; null: a name is. */
  option: string | null;
  typed: string;
}

/** Characters before a place that are looked at, at most. */
export const OptionReach = 2000;

/** The list of options that a place is in, by what is written before it and after; null where it is in none. */
export function optionAt(before: string, after: string): OptionPlace | null {
  const open = openBracket(before);
  if (open < 0) return null;
  const of = before[open] === '[' ? ofBrackets(before.slice(0, open), after) : ofBraces(before.slice(0, open));
  if (!of) return null;
  const member = lastMember(before.slice(open + 1));
  const found = /^\s*(?:([A-Za-z*&-]+)\s*=\s*)?([A-Za-z0-9&*-]*)$/.exec(member);
  return found && { of, option: found[1] ?? null, typed: found[2]! };
}

/** What the options in brackets belong to. */
function ofBrackets(before: string, after: string): string | null {
  // A package stands behind its options.
  if (/\\(usepackage|RequirePackage)\s*$/.test(before)) return /^[^\]]*\]\s*\{\s*([^},\s]+)/.exec(after)?.[1] ?? null;
  const environment = /\\begin\{([A-Za-z]+\*?)\}$/.exec(before);
  if (environment) return `{${environment[1]}}`;
  const command = /(\\[A-Za-z]+)\*?$/.exec(before)?.[1];
  return command ? `${command}[]` : null;
}

const ofBraces = (before: string) => /(\\[A-Za-z]+)\*?(?:\[[^\][]*\])?$/.exec(before)?.[1] ?? null;

/** Where the nearest brace or bracket stands that isn't closed; -1 for none, and where a paragraph ends before it. */
function openBracket(text: string): number {
  let depth = 0;
  for (let at = text.length - 1; at >= 0; at--) {
    const sign = text[at]!;
    if (text[at - 1] === '\\') continue;
    if (sign === '}' || sign === ']') depth++;
    if (sign === '{' || sign === '[') {
      if (depth === 0) return at;
      depth--;
    }
    if (sign === '\n' && /^[ \t]*\n/.test(text.slice(at + 1))) return -1;
  }
  return -1;
}

/** What follows the last comma that isn't in braces. */
function lastMember(list: string): string {
  let depth = 0;
  let from = 0;
  for (let at = 0; at < list.length; at++) {
    if (list[at] === '{') depth++;
    if (list[at] === '}') depth--;
    if (list[at] === ',' && depth === 0) from = at + 1;
  }
  return list.slice(from);
}
