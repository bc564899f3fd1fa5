import { hoverTooltip, type EditorView, type Tooltip } from '@codemirror/view';
import { post, type FormulaDrawing, type Report } from '../../api/client';
import { formulaAround } from '../making/formulas';
import { sectionAt } from '../outline';
import { knownOf } from './completion';
import { helpPanel, picturePanel } from './helpPanel';
import { commands, environments, files, labels } from './offers';
import { pointedAt } from './pointed';
import { goesWithWords } from '../source/hovering';

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

/** Whether a picture's file is the one that a name without its folder or ending may mean. */
export const isNamed = (path: string, name: string) =>
  path === name ||
  path.replace(/\.[^.]*$/, '') === name ||
  path.endsWith(`/${name}`) ||
  path.replace(/\.[^.]*$/, '').endsWith(`/${name}`);

/** The formula around a place, as it prints; null where there is none, or none that prints. */
async function formulaAt(view: EditorView, at: number, manuscript: number): Promise<Tooltip | null> {
  const formula = formulaAround(view.state.doc, at);
  if (!formula?.body) return null;
  const text = view.state.sliceDoc(formula.from, formula.to);
  const drawing = await post<FormulaDrawing>(`/api/manuscripts/${manuscript}/formula`, { text }).catch(() => null);
  const picture = drawing?.picture;
  if (!picture || view.state.sliceDoc(formula.from, formula.to) !== text) return null;
  const dom = document.createElement('div');
  dom.className = 'cm-help cm-help-formula';
  const image = dom.appendChild(document.createElement('img'));
  image.src = `data:image/svg+xml;utf8,${encodeURIComponent(picture.svg)}`;
  image.alt = `The formula as it prints: ${formula.body}`;
  return { pos: formula.from, end: formula.to, above: true, create: () => ({ dom }) };
}

/** Says what is under the pointer, and shows formulas and pictures. */
export const hoverHelp = (manuscript: number) =>
  hoverTooltip(
    async (view: EditorView, at: number): Promise<Tooltip | null> => {
      const line = view.state.doc.lineAt(at);
      const pointed = pointedAt(line.text, at - line.from);
      if (!pointed) return formulaAt(view, at, manuscript);
      const known = await knownOf(manuscript);
      if (!known || pointed.kind === 'source') return null;
      const panel = () => {
        if (pointed.kind === 'file') {
          const picture = files(known, 'picture').find((o) => o.picture && isNamed(o.label, pointed.name))?.picture;
          return picture ? picturePanel(picture) : null;
        }
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
    { hoverTime: 350, ...goesWithWords },
  );
