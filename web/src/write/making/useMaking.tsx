import { useRef, useState, type ReactNode } from 'react';
import { useQuery } from '@tanstack/react-query';
import { post, type Report, type TypedTable } from '../../api/client';
import { sourcesQuery } from '../../api/queries';
import { useRoom } from '../../rooms/roomContext';
import { ThingFinder } from '../../rooms/ThingFinder';
import { thingsOf, type Thing } from '../../rooms/things';
import { putFile } from '../../rooms/useUploads';
import { useStable } from '../../ui/useStable';
import { citingCommand } from '../citations';
import { knownOf } from '../completion/completion';
import { putTemplate, putText } from '../completion/putIn';
import { asTemplate } from '../completion/template';
import { wantedAfter } from '../completion/wanted';
import type { OpenText } from '../openText';
import { wholeAround } from '../source/blocks';
import { hold, type HeldPlace } from '../source/heldPlaces';
import { FormulaHelper } from './FormulaHelper';
import { formulaAround, type Formula } from './formulas';
import { emptyTable, needsOf } from './grid';
import type { MakeKind } from './makes';
import { figureTemplate, obstacleTo, pathOf, placeForBlock } from './pictures';
import { TableGrid } from './TableGrid';

/** What is being made, and for which place of which text. */
type Made = { text: OpenText; place: HeldPlace } & (
  | { kind: 'table'; table: TypedTable; source: string | null; pasted: string | null }
  | { kind: 'formula'; formula: Formula | null; source: string }
  | { kind: 'reference' | 'citation' }
);

/** Nothing has to be loaded. */
const none = { guide: null, packages: [] };

const tables = /^(tabular\*?|tabularx|tabulary|array|longtable)$/;

const changedMeanwhile =
  'Somebody changed it in the text meanwhile. What they wrote is kept and nothing of yours is in: leave it here, and begin anew from the text as it is now.';

/** Makes things with help, at the cursor or where something was pasted or dropped. */
export function useMaking(ways: {
  text: () => OpenText | null;
  report: Report | undefined;
  onProblem: (why: string) => void;
}) {
  const { manuscript, canWrite } = useRoom();
  const [made, setMade] = useState<Made | null>(null);
  const [uploading, setUploading] = useState('');
  const chooser = useRef<HTMLInputElement>(null);

  const end = useStable(() => {
    made?.place.release();
    setMade(null);
  });
  const begin = (next: Made) => {
    made?.place.release();
    // The focus comes back here when the dialog closes.
    next.text.view.focus();
    setMade(next);
  };
  /** Packages that aren't loaded, by themselves or along with others. */
  const missing = async (packages: readonly string[]) => {
    const known = await knownOf(manuscript.id);
    const loaded = known?.guide.loaded((known.report?.packages ?? []).map((p) => p.name));
    return { guide: known?.guide ?? null, packages: packages.filter((p) => !loaded?.has(p)) };
  };

  /** Takes pictures in, one after the other: each becomes a file, and a figure that waits for its caption. */
  const takePictures = async (text: OpenText, files: readonly File[], at: number) => {
    const place = hold(text.view, { from: at, to: at });
    ways.onProblem('');
    const taken = manuscript.files.map((f) => f.path);
    try {
      for (const file of files) {
        const obstacle = await obstacleTo(file);
        if (obstacle) {
          ways.onProblem(obstacle);
          continue;
        }
        const path = pathOf(file, taken);
        setUploading(path);
        await putFile(manuscript.id, path, file);
        taken.push(path);
        const needs = await missing(['graphicx']);
        const { from, to, before, after } = placeForBlock(text.view.state.doc, place.now().from);
        putTemplate(text.view, needs, from, to, before + figureTemplate(path) + after);
        text.view.focus();
      }
    } catch (e) {
      ways.onProblem((e as Error).message);
    } finally {
      setUploading('');
      place.release();
    }
  };
  const pictures = useStable((files: readonly File[], at?: number) => {
    const text = ways.text();
    if (text && canWrite) void takePictures(text, files, at ?? text.view.state.selection.main.head);
  });

  const read = (path: string, source: string) => post<TypedTable>(`/api/making/${path}`, { text: source });
  const cells = useStable((pasted: string) => {
    const text = ways.text();
    if (!text) return;
    const { from, to } = text.view.state.selection.main;
    const place = hold(text.view, { from, to });
    read('cells', pasted).then(
      (table) => begin({ kind: 'table', text, place, table, source: null, pasted }),
      // As text it can go in at all events.
      () => {
        text.view.dispatch(text.view.state.replaceSelection(pasted));
        place.release();
      },
    );
  });

  const start = useStable((kind: MakeKind) => {
    const text = ways.text();
    if (!text || !canWrite) return;
    const { view } = text;
    const { doc, selection } = view.state;
    const { from, to, head } = selection.main;
    const here = (stretch = { from, to }) => ({ text, place: hold(view, stretch) });
    switch (kind) {
      case 'figure':
        return chooser.current?.click();
      case 'table': {
        const whole = wholeAround(doc, head, (name) => tables.test(name));
        if (!whole) return begin({ kind, ...here(), table: emptyTable(3, 3), source: null, pasted: null });
        const source = doc.sliceString(whole.from, whole.to);
        const at = here(whole);
        return void read('table', source).then(
          (table) => begin({ kind, ...at, table, source, pasted: null }),
          (e: Error) => ways.onProblem(e.message),
        );
      }
      case 'formula': {
        const formula = formulaAround(doc, head);
        return begin({
          kind,
          ...here(formula ?? { from, to }),
          formula,
          source: formula ? doc.sliceString(formula.from, formula.to) : doc.sliceString(from, to),
        });
      }
      default:
        return begin({ kind, ...here() });
    }
  });

  /** Puts markup in the held place; gives why it can't be. */
  const put = (m: Made, source: string | null, markup: string, packages: string[], asBlock: boolean): string | null => {
    if (source !== null && m.place.words() !== source) return changedMeanwhile;
    void missing(packages).then((needs) => {
      const { from, to } = m.place.now();
      const { view } = m.text;
      if (asBlock) {
        const block = placeForBlock(view.state.doc, from);
        putTemplate(view, needs, block.from, block.to, block.before + markup + block.after);
      } else putText(view, needs, from, to, markup);
      end();
      view.focus();
    });
    return null;
  };

  const dialog = (): ReactNode => {
    if (!made) return null;
    switch (made.kind) {
      case 'table':
        return (
          <TableGrid
            table={made.table}
            source={made.source}
            onClose={end}
            onPlain={
              made.pasted === null
                ? null
                : () => {
                    const { from, to } = made.place.now();
                    made.text.view.dispatch({
                      changes: { from, to, insert: made.pasted! },
                      selection: { anchor: from + made.pasted!.length },
                    });
                    end();
                  }
            }
            onDone={(table, markup) =>
              made.source === null
                ? put(made, null, inFloat(markup), needsOf(table), true)
                : put(made, made.source, markup, needsOf(table), false)
            }
          />
        );
      case 'formula':
        return (
          <FormulaHelper
            manuscript={manuscript.id}
            formula={made.formula}
            onClose={end}
            onDone={(markup, packages) => put(made, made.source, markup, packages, false)}
          />
        );
      default:
        return (
          <Pick
            kind={made.kind}
            report={ways.report}
            onClose={end}
            onPick={(thing) => {
              const { view } = made.text;
              const { from, to } = view.state.selection.main;
              const line = view.state.doc.lineAt(from);
              const before = line.text.slice(0, from - line.from);
              const packages = ways.report?.packages.map((p) => p.name) ?? [];
              putText(view, none, from, to, referenceTo(made.kind, thing.name, before, packages));
            }}
          />
        );
    }
  };

  const controls = (
    <>
      {uploading && (
        <p role="status" className="shrink-0 border-b border-rule bg-note px-3 py-1.5">
          Taking in {uploading} …
        </p>
      )}
      <input
        ref={chooser}
        type="file"
        accept=".png,.jpg,.jpeg,.pdf,.svg"
        multiple
        hidden
        data-testid="figure"
        onChange={(e) => {
          pictures([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
      {dialog()}
    </>
  );
  return { start, pictures, cells, controls };
}

const inFloat = (table: string) =>
  [
    '\\begin{table}[htbp]',
    '  \\caption{${}}',
    '  \\label{tab:${key}}',
    '  \\centering',
    ...asTemplate(table)
      .split('\n')
      .map((line) => `  ${line}`),
    '\\end{table}${}',
  ].join('\n');

/** What names a thing at a place: within a command that takes its key, the key alone. */
export function referenceTo(kind: 'reference' | 'citation', key: string, before: string, packages: string[]): string {
  if (kind === 'citation')
    return /cite[a-z]*\*?(\[[^\]]*\])*\{[^{}]*$/i.test(before) ? key : `${citingCommand(packages)}{${key}}`;
  if (wantedAfter(before)?.kind === 'label') return key;
  return `${packages.includes('cleveref') ? '\\cref' : '\\ref'}{${key}}`;
}

/** Finds a label or a source by words. */
function Pick(props: {
  kind: 'reference' | 'citation';
  report: Report | undefined;
  onPick: (thing: Thing) => void;
  onClose: () => void;
}) {
  const { kind, report, onPick, onClose } = props;
  const { manuscript } = useRoom();
  const { data } = useQuery(sourcesQuery(manuscript.id));
  const wanted = kind === 'reference' ? 'label' : 'source';
  const rows = data?.rows ?? [];
  const things = thingsOf({ manuscript, rooms: [], report, sources: rows, actions: [] }).filter(
    (t) => t.kind === wanted,
  );
  return (
    <ThingFinder
      title={kind === 'reference' ? 'Refer to' : 'Cite'}
      placeholder={
        kind === 'reference' ? 'A label, or words of its title or caption …' : 'A name, a year, words of a title …'
      }
      empty={
        kind === 'reference'
          ? 'There are no labels yet: \\label{…} behind a heading or a caption makes one.'
          : 'There are no sources yet: add some in the room Sources.'
      }
      things={things}
      onReach={onPick}
      onClose={onClose}
    />
  );
}
