import { EditorSelection, EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { describe, expect, it } from 'vitest';
import { endsAt, environments } from '../src/write/source/environments';
import { wordsOf } from '../src/write/source/headingAbove';
import { pairedCommands, surround, wrapIn } from '../src/write/source/wrapping';

/** A state of a text in which what stands between « and » is chosen; ‸ is the cursor. */
function chosen(text: string, extensions: Parameters<typeof EditorState.create>[0] = {}): EditorState {
  const cursor = text.indexOf('‸');
  if (cursor >= 0)
    return EditorState.create({ ...extensions, doc: text.replace('‸', ''), selection: { anchor: cursor } });
  const from = text.indexOf('«');
  const to = text.indexOf('»') - 1;
  return EditorState.create({
    ...extensions,
    doc: text.replace(/[«»]/g, ''),
    selection: EditorSelection.range(from, to),
  });
}

/** A state written as for `chosen`. */
function written({ doc, selection: { main } }: EditorState): string {
  const text = doc.toString();
  if (main.empty) return `${text.slice(0, main.head)}‸${text.slice(main.head)}`;
  return `${text.slice(0, main.from)}«${text.slice(main.from, main.to)}»${text.slice(main.to)}`;
}

const wrap = (text: string, command = 'emph') => {
  const state = chosen(text);
  return written(state.update(wrapIn(state, command)).state);
};

describe('a command around words', () => {
  it.each([
    ['the «old» wall', 'the \\emph{«old»} wall'],
    ['the \\emph{«old»} wall', 'the «old» wall'],
    ['the o‸ld wall', 'the \\emph{o‸ld} wall'],
    ['the \\emph{o‸ld} wall', 'the o‸ld wall'],
    ['the  ‸ wall', 'the  \\emph{‸} wall'],
  ])('%s', (before, after) => expect(wrap(before)).toBe(after));

  it('is put around another one, and not taken for it', () => {
    expect(wrap('\\textbf{«old»}')).toBe('\\textbf{\\emph{«old»}}');
  });
});

describe('an environment around lines', () => {
  const around = (text: string, environment: string, isList: boolean) => {
    const state = chosen(text);
    return written(state.update(surround(state, environment, isList)).state);
  };

  it('takes whole lines', () => {
    expect(around('a\nb «c\nd» e\nf', 'quote', false)).toBe('a\n\\begin{quote}\nb c\nd e‸\n\\end{quote}\nf');
    expect(around('a\n«b\n»c', 'quote', false)).toBe('a\n\\begin{quote}\nb‸\n\\end{quote}\nc');
  });

  it('makes items of the lines of a list, and of signs in front of them', () => {
    expect(around('  «- one\n\n  2. two»', 'itemize', true)).toBe(
      '  \\begin{itemize}\n    \\item one\n    \\item two‸\n  \\end{itemize}',
    );
    expect(around('‸', 'enumerate', true)).toBe('\\begin{enumerate}\n  \\item ‸\n\\end{enumerate}');
  });
});

describe('the names of an environment', () => {
  const type = (text: string, change: { from: number; to?: number; insert?: string }, userEvent = 'input.type') => {
    const state = EditorState.create({ doc: text, extensions: environments });
    return state.update({ changes: change, userEvent }).state.doc.toString();
  };

  it('change together, from either end', () => {
    expect(type('\\begin{table} x \\end{table}', { from: 12, insert: '*' })).toBe('\\begin{table*} x \\end{table*}');
    expect(type('\\begin{table} x \\end{table}', { from: 25, to: 26 }, 'delete.backward')).toBe(
      '\\begin{tabl} x \\end{tabl}',
    );
  });

  it('stay apart where the change is another’s, goes beyond the name, or is undone', () => {
    expect(type('\\begin{a} x \\end{a}', { from: 7, insert: 'b' }, 'undo')).toBe('\\begin{ba} x \\end{a}');
    expect(type('\\begin{a} x \\end{a}', { from: 7, insert: 'b}{' })).toBe('\\begin{b}{a} x \\end{a}');
    expect(type('\\begin{a} x \\end{b}', { from: 7, insert: 'c' })).toBe('\\begin{ca} x \\end{b}');
  });

  it('are marked at the cursor: both, or the one that is alone', () => {
    const count = (text: string) => endsAt(chosen(text)).size;
    expect([count('\\begin{ta‸ble} x \\end{table}'), count('\\begin{ta‸ble} x'), count('a ‸ \\begin{b}')]).toEqual([
      2, 1, 0,
    ]);
  });
});

describe('a bracket after a backslash', () => {
  const type = (text: string, typed: string) => {
    const view = new EditorView({ state: chosen(text, { extensions: pairedCommands }) });
    const { head } = view.state.selection.main;
    const isTaken = view.state
      .facet(EditorView.inputHandler)
      .some((handle) => handle(view, head, head, typed, () => view.state.update({})));
    const found = isTaken ? written(view.state) : null;
    view.destroy();
    return found;
  };

  it('brings the one that closes it', () => {
    expect([type('a \\‸', '['), type('a \\‸', '('), type('\\‸', '{')]).toEqual(['a \\[‸\\]', 'a \\(‸\\)', '\\{‸\\}']);
  });

  it('is like any other after a line’s end', () => {
    expect([type('a \\\\‸', '['), type('a ‸', '[')]).toEqual([null, null]);
  });
});

describe('the heading at the upper edge', () => {
  it.each([
    ['\\section{The \\emph{old} wall}\\label{sec:w}', 'The old wall'],
    ['\\chapter[Short]{Long~one}', 'Long one'],
    ['  \\subsection*{With {braces} in it} more', 'With braces in it'],
    ['\\section{Open', 'Open'],
  ])('%s', (line, words) => expect(wordsOf(line)).toBe(words));
});
