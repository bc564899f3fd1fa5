import type { Text } from '@codemirror/state';

/** What may stand at a place, by what is typed before it. */
export type Wanted =
  | { kind: 'command'; typed: string }
  | { kind: 'environment'; typed: string; isEnd: boolean }
  | { kind: 'label'; typed: string }
  | { kind: 'file'; typed: string; of: 'text' | 'picture' | 'sources' | 'data' }
  | { kind: 'package'; typed: string }
  | { kind: 'class'; typed: string }
  | { kind: 'classOption'; typed: string }
  | { kind: 'counter'; typed: string }
  | { kind: 'colour'; typed: string }
  | { kind: 'entry'; typed: string };

const list = String.raw`(?:[^{}]*,)?\s*`;
const within = (commands: string, isList = false) =>
  new RegExp(String.raw`\\(?:${commands})\*?(?:\[[^\]]*\])?\{${isList ? list : ''}([^{},\\]*)$`);

// From what is most particular to what is least.
const patterns: [RegExp, (found: RegExpExecArray) => Wanted][] = [
  [/\\(begin|end)\s*\{([A-Za-z@*]*)$/, (f) => ({ kind: 'environment', typed: f[2]!, isEnd: f[1] === 'end' })],
  [
    within('[A-Za-z]*(?:ref|Ref)|hyperref|crefrange|Crefrange|labelcref', true),
    (f) => ({ kind: 'label', typed: f[1]! }),
  ],
  [/\\hyperref\[([^\]]*)$/, (f) => ({ kind: 'label', typed: f[1]! })],
  [within('input|include|subfile|subfileinclude'), (f) => ({ kind: 'file', typed: f[1]!, of: 'text' })],
  [within('includeonly', true), (f) => ({ kind: 'file', typed: f[1]!, of: 'text' })],
  [within('includegraphics|includesvg|includepdf'), (f) => ({ kind: 'file', typed: f[1]!, of: 'picture' })],
  [within('bibliography|addbibresource|nobibliography', true), (f) => ({ kind: 'file', typed: f[1]!, of: 'sources' })],
  [
    within('csvreader|csvauto[a-z]+|verbatiminput|lstinputlisting|VerbatimInput'),
    (f) => ({ kind: 'file', typed: f[1]!, of: 'data' }),
  ],
  [within('usepackage|RequirePackage', true), (f) => ({ kind: 'package', typed: f[1]! })],
  [within('documentclass|LoadClass'), (f) => ({ kind: 'class', typed: f[1]! })],
  [/\\documentclass\[(?:[^\]]*,)?\s*([A-Za-z0-9]*)$/, (f) => ({ kind: 'classOption', typed: f[1]! })],
  [
    within('setcounter|addtocounter|stepcounter|refstepcounter|value|arabic|roman|Roman|alph|Alph|counterwithin'),
    (f) => ({ kind: 'counter', typed: f[1]! }),
  ],
  [
    within('color|textcolor|colorbox|fcolorbox|pagecolor|rowcolor|columncolor|cellcolor|arrayrulecolor'),
    (f) => ({ kind: 'colour', typed: f[1]! }),
  ],
  [within('gls|Gls|GLS|glspl|Glspl|acr[a-z]+|ac|acp?|acs|acl|acf'), (f) => ({ kind: 'entry', typed: f[1]! })],
  [/\\([A-Za-z@]*)$/, (f) => ({ kind: 'command', typed: f[1]! })],
];

/** What is wanted after some words of a line; null where nothing is. */
export function wantedAfter(before: string): Wanted | null {
  for (const [pattern, say] of patterns) {
    const found = pattern.exec(before);
    if (found && !(found[0].startsWith('\\') && isEscaped(before, found.index))) return say(found);
  }
  return null;
}

/** Whether the backslash at a place belongs to the one before it, as in `\\`. */
function isEscaped(text: string, at: number): boolean {
  let slashes = 0;
  while (text[at - 1 - slashes] === '\\') slashes++;
  return slashes % 2 === 1;
}

const formulas =
  /^(math|displaymath|equation|align|gather|multline|eqnarray|flalign|alignat|split|aligned|gathered|cases|array|[pbBvV]?matrix)\*?$/;

/** Lines above a place in which a formula that it is in begins, at most. */
const MostLines = 60;

/** Whether a place is within a formula, as far as its paragraph and the environments around it say. */
export function isInFormula(doc: Text, at: number): boolean {
  const line = doc.lineAt(at);
  let dollars = 0;
  let isBroken = false;
  const depth = new Map<string, number>();
  for (let number = line.number; number > 0 && number > line.number - MostLines; number--) {
    const { text, from } = doc.line(number);
    const words = number === line.number ? text.slice(0, at - from) : text;
    if (!words.trim()) isBroken = true;
    if (!isBroken) dollars += [...words.matchAll(/\\.|\$+/g)].filter((f) => f[0] === '$' || f[0] === '$$').length;
    for (const found of [...words.matchAll(/\\(begin|end)\{([A-Za-z]+\*?)\}|\\([[\]()])/g)].reverse()) {
      const name = found[2] ?? (found[3] === '[' || found[3] === ']' ? '[' : '(');
      const isEnd = found[1] === 'end' || found[3] === ']' || found[3] === ')';
      const open = (depth.get(name) ?? 0) + (isEnd ? -1 : 1);
      depth.set(name, open);
      if (open > 0 && (name === '[' || name === '(' || formulas.test(name))) return true;
    }
  }
  return dollars % 2 === 1;
}
