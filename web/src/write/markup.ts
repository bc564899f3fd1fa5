import { HighlightStyle, StreamLanguage, syntaxHighlighting, type StreamParser } from '@codemirror/language';
import { Tag } from '@lezer/highlight';

/** Commands whose argument is a key; and those whose argument is a heading. */
const keyCommands = new Set(['label', 'ref', 'pageref', 'eqref', 'cite', 'bibitem', 'autoref', 'nameref']);
const headings = new Set([
  'part',
  'chapter',
  'section',
  'subsection',
  'subsubsection',
  'paragraph',
  'subparagraph',
  'title',
]);
/** Commands whose words are set off in print. */
const emphases: Record<string, 'emphasis' | 'strong' | 'code'> = {
  emph: 'emphasis',
  textit: 'emphasis',
  textsl: 'emphasis',
  textbf: 'strong',
  texttt: 'code',
};
const displays = new Set(['equation', 'align', 'gather', 'displaymath', 'equation*', 'align*', 'gather*', 'math']);

const tag = {
  command: Tag.define(),
  mathematics: Tag.define(),
  comment: Tag.define(),
  key: Tag.define(),
  heading: Tag.define(),
  name: Tag.define(),
  brace: Tag.define(),
  emphasis: Tag.define(),
  strong: Tag.define(),
  code: Tag.define(),
};

type Inside = 'key' | 'heading' | 'begin' | 'end' | 'emphasis' | 'strong' | 'code' | 'group';

interface State {
  /** What closes the mathematics being read; empty outside. */
  mathematics: string;
  /** What the next argument holds. */
  waiting: '' | Inside;
  /** The groups in braces that are open, by what they hold. */
  inside: Inside[];
}

const parser: StreamParser<State> = {
  name: 'markup',
  startState: () => ({ mathematics: '', waiting: '', inside: [] }),
  languageData: { commentTokens: { line: '%' }, closeBrackets: { brackets: ['{', '(', '[', '$'] } },
  tokenTable: tag,
  // An empty line ends what wasn't closed, as it does in print.
  blankLine(state) {
    if (state.mathematics === '$') state.mathematics = '';
    // A heading's braces hold whatever is in them; those of an emphasis that wasn't closed would colour the rest.
    if (state.inside[0] !== 'heading') state.inside = [];
    state.waiting = '';
  },
  token(stream, state) {
    if (stream.eatSpace()) return null;
    if (stream.peek() === '%') {
      stream.skipToEnd();
      return 'comment';
    }
    const inner = state.inside.at(-1);
    if (inner === 'key' || inner === 'begin' || inner === 'end') {
      const content = stream.match(/^[^}%]+/) as RegExpMatchArray | null;
      if (content) {
        if (inner === 'begin' && displays.has(content[0])) state.mathematics = content[0];
        if (inner === 'end' && state.mathematics === content[0]) state.mathematics = '';
        return inner === 'key' ? 'key' : 'name';
      }
    }
    const command = stream.match(/^\\([a-zA-Z@]+\*?|.)?/) as RegExpMatchArray | null;
    if (command) {
      const name = (command[1] ?? '').replace('*', '');
      if (name === '[') state.mathematics = '\\]';
      else if (name === '(') state.mathematics = '\\)';
      else if (command[0] === state.mathematics) state.mathematics = '';
      else if (keyCommands.has(name) || (/cite/i.test(name) && !/^(set|def)cite|citestyle/.test(name)))
        state.waiting = 'key';
      else if (headings.has(name)) state.waiting = 'heading';
      else if (Object.hasOwn(emphases, name)) state.waiting = emphases[name]!;
      else if (name === 'begin' || name === 'end') state.waiting = name;
      return state.mathematics && !['[', '(', ']', ')'].includes(name) ? 'mathematics' : 'command';
    }
    const character = stream.next();
    if (character === '$') {
      const sign = stream.eat('$') ? '$$' : '$';
      state.mathematics = state.mathematics === sign ? '' : sign;
      return 'mathematics';
    }
    if (character === '{') {
      state.inside.push(state.waiting || 'group');
      state.waiting = '';
      return 'brace';
    }
    if (character === '}') {
      state.inside.pop();
      return 'brace';
    }
    if (character === '[' && state.waiting) return 'brace';
    stream.match(/^[^\\%${}]+/);
    if (state.mathematics) return 'mathematics';
    const held = state.inside.findLast((kind) => kind !== 'group');
    return held === 'heading' || held === 'emphasis' || held === 'strong' || held === 'code' ? held : null;
  },
};

const key = {
  tag: tag.key,
  color: 'var(--color-plum)',
  backgroundColor: 'var(--color-plum-tint)',
  borderRadius: '3px',
  padding: '0 2px',
};
const heading = {
  tag: tag.heading,
  color: 'var(--color-rubric)',
  fontFamily: 'var(--font-serif)',
  fontSize: '17px',
  fontWeight: '500',
};
const comment = { tag: tag.comment, color: 'var(--color-ink-3)', fontStyle: 'italic' };
const mathematics = { tag: tag.mathematics, color: 'var(--color-slate)' };

const looks = HighlightStyle.define([
  { tag: tag.command, color: 'var(--color-tint-ink)' },
  { tag: tag.brace, color: 'var(--color-tint-ink)' },
  { tag: tag.name, color: 'var(--color-ink)' },
  mathematics,
  comment,
  key,
  heading,
]);

/** The markup steps back, and the words look as they are meant; not a character is another. */
const quietLooks = HighlightStyle.define([
  { tag: [tag.command, tag.brace, tag.name], color: 'var(--color-ink-3)', fontSize: '10.5px' },
  mathematics,
  comment,
  { ...key, fontSize: '10.5px' },
  { ...heading, fontSize: '21px' },
  { tag: tag.emphasis, fontStyle: 'italic' },
  { tag: tag.strong, fontWeight: '600' },
  { tag: tag.code, backgroundColor: 'var(--color-band)' },
]);

/** The language alone, for reading a text without an editor. */
export const markupLanguage = StreamLanguage.define(parser);

/** How the markup looks: in colours, or quiet. */
export const looksOf = (isQuiet: boolean) => syntaxHighlighting(isQuiet ? quietLooks : looks);
