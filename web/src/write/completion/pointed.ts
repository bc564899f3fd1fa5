/** A name in a text, and what it is of. */
export interface Pointed {
  kind: 'command' | 'environment' | 'label' | 'source' | 'file';
  name: string;
  from: number;
  to: number;
}

/** Commands that take names in braces, one or a list. */
const takers: [Pointed['kind'], RegExp][] = [
  ['label', /\\(?:label|[A-Za-z]*[rR]ef|[cC]refrange|vrefrange)\*?(?:\[[^\]]*\])?\{([^{}]*)\}(?:\{([^{}]*)\})?/dg],
  ['label', /\\hyperref\[([^\]]*)\]/dg],
  ['source', /\\[A-Za-z]*cite[A-Za-z]*\*?(?:\[[^\]]*\])*\{([^{}]*)\}/dgi],
  ['environment', /\\(?:begin|end|newenvironment|renewenvironment|newtheorem)\*?\{([^{}]*)\}/dg],
  [
    'file',
    /\\(?:input|include|subfile|includegraphics|includepdf|bibliography|addbibresource)\*?(?:\[[^\]]*\])?\{([^{}]*)\}/dg,
  ],
];

/** The name at a place of a line: of a command, an environment, a label, a source or a file; null where there is none. */
export function pointedAt(line: string, at: number): Pointed | null {
  for (const [kind, taker] of takers) {
    for (const found of line.matchAll(taker)) {
      for (const [start, end] of found.indices!.slice(1).filter((range) => range !== undefined)) {
        let piece = start;
        for (const part of line.slice(start, end).split(',')) {
          const name = part.trim();
          const from = piece + part.indexOf(name);
          if (name && at >= from && at <= from + name.length) return { kind, name, from, to: from + name.length };
          piece += part.length + 1;
        }
      }
    }
  }
  for (const found of line.matchAll(/\\([A-Za-z@]+|.)/g)) {
    const to = found.index + found[0].length;
    if (at >= found.index && at <= to && /[A-Za-z@]/.test(found[1]!))
      return { kind: 'command', name: found[1]!, from: found.index, to };
  }
  return null;
}
