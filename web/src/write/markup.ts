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
const displays = new Set(['equation', 'align', 'gather', 'displaymath', 'equation*', 'align*', 'gather*', 'math']);

const tag = {
  command: Tag.define(),
  mathematics: Tag.define(),
  comment: Tag.define(),
  key: Tag.define(),
  heading: Tag.define(),
  name: Tag.define(),
  brace: Tag.define(),
};

interface State {
  /** What closes the mathematics being read; empty outside. */
  mathematics: string;
  /** What the next argument holds. */
  waiting: '' | 'key' | 'heading' | 'begin' | 'end';
  /** Kind of the argument being read, and its depth in braces. */
  inside: '' | 'key' | 'heading' | 'begin' | 'end';
  depth: number;
}

const parser: StreamParser<State> = {
  name: 'markup',
  startState: () => ({ mathematics: '', waiting: '', inside: '', depth: 0 }),
  languageData: { commentTokens: { line: '%' }, closeBrackets: { brackets: ['{'] } },
  tokenTable: tag,
  // An empty line ends what wasn't closed, as it does in print.
  blankLine(state) {
    if (state.mathematics === '$') state.mathematics = '';
    if (state.inside !== 'heading') state.inside = '';
    state.waiting = '';
  },
  token(stream, state) {
    if (stream.eatSpace()) return null;
    if (stream.peek() === '%') {
      stream.skipToEnd();
      return 'comment';
    }
    if (state.inside === 'key' || state.inside === 'begin' || state.inside === 'end') {
      const content = stream.match(/^[^}%]+/) as RegExpMatchArray | null;
      if (content) {
        if (state.inside === 'begin' && displays.has(content[0])) state.mathematics = content[0];
        if (state.inside === 'end' && state.mathematics === content[0]) state.mathematics = '';
        return state.inside === 'key' ? 'key' : 'name';
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
      if (state.waiting && !state.inside) {
        state.inside = state.waiting;
        state.waiting = '';
        state.depth = 0;
      }
      state.depth++;
      return 'brace';
    }
    if (character === '}') {
      if (--state.depth <= 0) state.inside = '';
      return 'brace';
    }
    if (character === '[' && state.waiting) return 'brace';
    stream.match(/^[^\\%${}]+/);
    if (state.mathematics) return 'mathematics';
    return state.inside === 'heading' ? 'heading' : null;
  },
};

const looks = HighlightStyle.define([
  { tag: tag.command, color: 'var(--color-tint-ink)' },
  { tag: tag.brace, color: 'var(--color-tint-ink)' },
  { tag: tag.name, color: 'var(--color-ink)' },
  { tag: tag.mathematics, color: 'var(--color-slate)' },
  { tag: tag.comment, color: 'var(--color-ink-3)', fontStyle: 'italic' },
  {
    tag: tag.key,
    color: 'var(--color-plum)',
    backgroundColor: 'var(--color-plum-tint)',
    borderRadius: '3px',
    padding: '0 2px',
  },
  {
    tag: tag.heading,
    color: 'var(--color-rubric)',
    fontFamily: 'var(--font-serif)',
    fontSize: '17px',
    fontWeight: '500',
  },
]);

/** The language alone, for reading a text without an editor. */
export const markupLanguage = StreamLanguage.define(parser);

/** Colours for commands, keys, headings, mathematics and comments. */
export const markup = [markupLanguage, syntaxHighlighting(looks)];
