import {
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { EditorView, hoverTooltip } from '@codemirror/view';
import { get, type SourceDetail, type SourceRow, type SourcesState } from '../api/client';

const command = String.raw`\\[a-zA-Z]*cite[a-zA-Z]*\*?(?:\[[^\]]*\])*`;
const open = new RegExp(String.raw`${command}\{([^{}]*)$`, 'i');
const whole = new RegExp(String.raw`${command}\{([^{}]*)\}`, 'gi');

/** Whether pasted text is a record of a source: BibTeX, RIS or CSL-JSON. */
export const isRecord = (text: string) =>
  /^\s*@[a-z]+\s*[{(]\s*[^\s,]+\s*,/i.test(text) ||
  /^\s*TY {2}- [A-Z]+/m.test(text) ||
  (/^\s*[[{]/.test(text) && /"type"\s*:/.test(text) && /"title"\s*:/.test(text));

/** What the markup cites with, by the packages that are loaded. */
export function citingCommand(packages: string[]) {
  if (packages.includes('biblatex')) return '\\autocite';
  return packages.includes('natbib') ? '\\citep' : '\\cite';
}

/** The pool while writing: offers sources where a key belongs, and shows a reference under the pointer. */
export class Citations {
  private rows: SourceRow[] = [];
  private asked: Promise<void> | null = null;
  private readonly details = new Map<string, Promise<SourceDetail>>();

  constructor(private readonly base: string) {}

  /** The pool may have changed: it is asked for again when it is needed. */
  forget() {
    this.asked = null;
    this.details.clear();
  }

  extension() {
    return [
      autocompletion({ override: [(context) => this.complete(context)], icons: false, activateOnTypingDelay: 60 }),
      hoverTooltip((view, at) => this.hover(view, at), { hoverTime: 250 }),
    ];
  }

  private async load() {
    this.asked ??= get<SourcesState>(this.base).then(
      (s) => void (this.rows = s.rows.filter((r) => r.isThere)),
      () => void (this.asked = null),
    );
    await this.asked;
  }

  private detail(key: string) {
    let known = this.details.get(key);
    if (!known) {
      known = get<SourceDetail>(`${this.base}/entry?key=${encodeURIComponent(key)}`);
      this.details.set(key, known);
      known.catch(() => this.details.delete(key));
    }
    return known;
  }

  private async complete(context: CompletionContext): Promise<CompletionResult | null> {
    const line = context.state.doc.lineAt(context.pos);
    const found = open.exec(line.text.slice(0, context.pos - line.from));
    if (!found) return null;
    const keys = found[1] ?? '';
    const typed = keys.slice(keys.lastIndexOf(',') + 1).trimStart();
    await this.load();
    const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
    const options: Completion[] = [];
    for (const r of this.rows) {
      const text = `${r.key} ${r.authors} ${r.title} ${r.year}`.toLowerCase();
      if (!words.every((w) => text.includes(w))) continue;
      options.push({
        label: r.key,
        detail: [r.authors, r.year].filter(Boolean).join(' '),
        boost: (r.key.toLowerCase().startsWith(typed.toLowerCase()) ? 50 : 0) + Math.min(r.uses, 20),
        info: async () => reference(await this.detail(r.key).catch(() => null), r.key),
      });
      if (options.length >= 200) break;
    }
    // The words may be of the title or a name, so that filtering is our own; typing on asks again.
    return { from: context.pos - typed.length, options, filter: false };
  }

  private async hover(view: EditorView, at: number) {
    const line = view.state.doc.lineAt(at);
    for (const match of line.text.matchAll(whole)) {
      const start = line.from + match.index + match[0].lastIndexOf('{') + 1;
      let from = start;
      for (const piece of (match[1] ?? '').split(',')) {
        const key = piece.trim();
        const to = from + piece.length;
        if (at >= from && at <= to && key) {
          const detail = await this.detail(key).catch(() => null);
          return { pos: from, end: to, above: true, create: () => ({ dom: reference(detail, key) }) };
        }
        from = to + 1;
      }
    }
    return null;
  }
}

/** A reference as it prints, for a tooltip. */
function reference(detail: SourceDetail | null, key: string) {
  const dom = document.createElement('div');
  dom.className = 'cm-reference';
  if (!detail?.row.isThere) {
    dom.textContent = `No .bib file has a source “${key}”.`;
    return dom;
  }
  const text = dom.appendChild(document.createElement('p'));
  for (const run of detail.printed) {
    const span = text.appendChild(document.createElement(run.isSlanted ? 'em' : 'span'));
    span.textContent = run.text;
  }
  const note = dom.appendChild(document.createElement('p'));
  note.textContent = detail.row.missing.length > 0 ? `lacks ${detail.row.missing.join(', ')}` : detail.inBrackets;
  note.className = detail.row.missing.length > 0 ? 'cm-reference-lacks' : 'cm-reference-note';
  return dom;
}
