import type { Completion, CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { EditorView, hoverTooltip } from '@codemirror/view';
import type { SourceDetail, SourceRow } from '../api/client';
import { queryClient, sourceQuery, sourcesQuery } from '../api/queries';
import { goesWithWords } from './source/hovering';

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

/** What is typed of a key, a name or a title where a citation takes a key; null elsewhere. */
export function keyBefore(text: string): string | null {
  const found = open.exec(text);
  if (!found) return null;
  const keys = found[1] ?? '';
  return keys.slice(keys.lastIndexOf(',') + 1).trimStart();
}

const MostOffered = 200;

/** The sources in which all of the typed words are found, in key, names, title or year. */
export function offered(rows: readonly SourceRow[], typed: string): SourceRow[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found: SourceRow[] = [];
  for (const r of rows) {
    const text = `${r.key} ${r.authors} ${r.title} ${r.year}`.toLowerCase();
    if (words.every((w) => text.includes(w))) found.push(r);
    if (found.length >= MostOffered) break;
  }
  return found;
}

/** How near a source stands to what is typed: keys that begin so come first, then what is cited most. */
export const rank = (row: SourceRow, typed: string) =>
  (row.key.toLowerCase().startsWith(typed.toLowerCase()) ? 50 : 0) + Math.min(row.uses, 20);

/** The pool while writing: offers sources where a key belongs, and shows a reference under the pointer. */
export class Citations {
  constructor(private readonly manuscript: number) {}

  extension() {
    return hoverTooltip((view, at) => this.hover(view, at), { hoverTime: 250, ...goesWithWords });
  }

  // Both come from what is known already, as long as nobody has said that it changed.
  private rows() {
    return queryClient.fetchQuery({ ...sourcesQuery(this.manuscript), retry: false }).then(
      (s) => s.rows.filter((r) => r.isThere),
      (): SourceRow[] => [],
    );
  }

  private detail(key: string): Promise<SourceDetail | null> {
    return queryClient.fetchQuery({ ...sourceQuery(this.manuscript, key), retry: false }).catch(() => null);
  }

  /** Offers sources where a key belongs. */
  complete = async (context: CompletionContext): Promise<CompletionResult | null> => {
    const line = context.state.doc.lineAt(context.pos);
    const typed = keyBefore(line.text.slice(0, context.pos - line.from));
    if (typed === null) return null;
    const options = offered(await this.rows(), typed).map((row): Completion => ({
      label: row.key,
      detail: [row.authors, row.year].filter(Boolean).join(' '),
      boost: rank(row, typed),
      info: async () => reference(await this.detail(row.key), row.key),
    }));
    // The words may be of the title or a name, so that filtering is our own; typing on asks again.
    return { from: context.pos - typed.length, options, filter: false };
  };

  private async hover(view: EditorView, at: number) {
    const line = view.state.doc.lineAt(at);
    for (const match of line.text.matchAll(whole)) {
      const start = line.from + match.index + match[0].lastIndexOf('{') + 1;
      let from = start;
      for (const piece of (match[1] ?? '').split(',')) {
        const key = piece.trim();
        const to = from + piece.length;
        if (at >= from && at <= to && key) {
          const detail = await this.detail(key);
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
