import { hoverTooltip, type EditorView, type Tooltip } from '@codemirror/view';
import type { Report } from '../../api/client';
import { sectionAt } from '../outline';
import { knownOf } from './completion';
import { helpPanel } from './helpPanel';
import { commands, environments, labels } from './offers';

/** What is under the pointer. */
export interface Pointed {
  kind: 'command' | 'environment' | 'label';
  name: string;
  from: number;
  to: number;
}

const references = /\\[A-Za-z]*[rR]ef\*?(?:\[[^\]]*\])?\{([^{}]*)\}|\\label\{([^{}]*)\}/g;

/** The command, environment or label at a place of a line; null where there is none. */
export function pointedAt(line: string, at: number): Pointed | null {
  for (const found of line.matchAll(references)) {
    const keys = found[1] ?? found[2]!;
    let from = found.index + found[0].lastIndexOf('{') + 1;
    for (const piece of keys.split(',')) {
      const to = from + piece.length;
      if (at >= from && at <= to && piece.trim()) return { kind: 'label', name: piece.trim(), from, to };
      from = to + 1;
    }
  }
  for (const found of line.matchAll(/\\(?:begin|end)\{([A-Za-z@]+\*?)\}/g)) {
    const to = found.index + found[0].length - 1;
    const from = to - found[1]!.length;
    if (at >= from && at <= to) return { kind: 'environment', name: found[1]!, from, to };
  }
  for (const found of line.matchAll(/\\([A-Za-z@]+|.)/g)) {
    const to = found.index + found[0].length;
    if (at >= found.index && at <= to && /[A-Za-z@]/.test(found[1]!))
      return { kind: 'command', name: found[1]!, from: found.index, to };
  }
  return null;
}

/** What a label names, and where that is. */
function labelPanel(report: Report | null, key: string): HTMLElement {
  const dom = document.createElement('div');
  dom.className = 'cm-help';
  const say = (className: string, text: string) => {
    const line = dom.appendChild(document.createElement('p'));
    line.className = className;
    line.textContent = text;
  };
  const label = report?.labels.find((l) => l.key === key);
  if (!report || !label) {
    say('cm-help-says', `Nothing carries the label “${key}”.`);
    return dom;
  }
  const offer = labels(report).find((o) => o.label === key);
  say('cm-help-says', offer?.detail ?? '');
  const section = report.outline[sectionAt(report.outline, label.file ?? undefined, label.line ?? 0)];
  const places = [
    label.page && `page ${label.page}`,
    label.file && `${label.file}, line ${label.line}`,
    section && `in “${section.title}”`,
  ];
  say('cm-reference-note', places.filter(Boolean).join(' · '));
  return dom;
}

/** Says what is under the pointer. */
export const hoverHelp = (manuscript: number) =>
  hoverTooltip(
    async (view: EditorView, at: number): Promise<Tooltip | null> => {
      const line = view.state.doc.lineAt(at);
      const pointed = pointedAt(line.text, at - line.from);
      const known = pointed && (await knownOf(manuscript));
      if (!pointed || !known) return null;
      const panel = () => {
        if (pointed.kind === 'label') return labelPanel(known.report, pointed.name);
        const all = pointed.kind === 'command' ? commands(known, false) : environments(known, null);
        const offer = all.find((o) => o.help?.name === pointed.name);
        return offer?.help ? helpPanel(offer.help, offer) : null;
      };
      const dom = panel();
      return (
        dom && { pos: line.from + pointed.from, end: line.from + pointed.to, above: true, create: () => ({ dom }) }
      );
    },
    { hoverTime: 350 },
  );
