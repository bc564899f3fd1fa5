import { EditorView, ViewPlugin, type ViewUpdate } from '@codemirror/view';
import { headingAbove } from './blocks';

/** The words of a heading, without the commands around and in them. */
export function wordsOf(line: string): string {
  const from = /^\s*\\[a-z]+\*?\s*(?:\[[^\]]*\])?\s*\{/.exec(line)?.[0].length ?? 0;
  let depth = 1;
  let to = from;
  for (; to < line.length && depth > 0; to++) depth += line[to] === '{' ? 1 : line[to] === '}' ? -1 : 0;
  return line
    .slice(from, depth === 0 ? to - 1 : to)
    .replace(/\\(?:label|index)\{[^}]*\}/g, '')
    .replace(/\\[a-zA-Z]+\s?|[{}]/g, '')
    .replaceAll('~', ' ')
    .trim();
}

/** Keeps the heading of the section in view at the upper edge, once it was scrolled away; a click goes to it. */
export const headingInView = ViewPlugin.fromClass(
  class {
    /** What it covers of the text, in pixels. */
    get height() {
      return this.dom.hidden ? 0 : this.dom.offsetHeight;
    }

    private readonly dom = document.createElement('button');
    private line = 0;

    constructor(private readonly view: EditorView) {
      this.dom.className = 'cm-heading-above';
      this.dom.type = 'button';
      this.dom.tabIndex = -1;
      this.dom.title = 'To this heading';
      this.dom.onclick = () => {
        const { from } = view.state.doc.line(this.line);
        view.dispatch({ selection: { anchor: from }, effects: EditorView.scrollIntoView(from, { y: 'start' }) });
        view.focus();
      };
      view.dom.append(this.dom);
      view.scrollDOM.addEventListener('scroll', this.look, { passive: true });
      this.look();
    }

    update(update: ViewUpdate) {
      if (update.docChanged || update.geometryChanged) this.look();
    }

    destroy() {
      this.view.scrollDOM.removeEventListener('scroll', this.look);
      this.dom.remove();
    }

    private readonly look = () =>
      this.view.requestMeasure({
        key: this,
        read: (view) => {
          const { doc } = view.state;
          const top = view.lineBlockAtHeight(view.scrollDOM.scrollTop);
          const first = doc.lineAt(Math.min(top.from, doc.length)).number;
          const found = headingAbove(doc, first);
          return { line: found < first ? found : 0, words: found > 0 ? wordsOf(doc.line(found).text) : '' };
        },
        write: ({ line, words }) => {
          this.line = line;
          this.dom.hidden = line === 0 || words === '';
          if (this.dom.textContent !== words) this.dom.textContent = words;
        },
      });
  },
  // What is gone to doesn't end up beneath it.
  { provide: (plugin) => EditorView.scrollMargins.of((view) => ({ top: view.plugin(plugin)?.height ?? 0 })) },
);
