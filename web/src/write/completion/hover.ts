import { hoverTooltip, type EditorView, type Tooltip } from '@codemirror/view';
import type { Report } from '../../api/client';
import { sectionAt } from '../outline';
import { knownOf } from './completion';
import { helpPanel } from './helpPanel';
import { commands, environments, labels } from './offers';
import { pointedAt } from './pointed';

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
      if (!pointed || !known || pointed.kind === 'source' || pointed.kind === 'file') return null;
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
