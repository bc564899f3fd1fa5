import { closeBrackets, closeBracketsKeymap, snippet } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { EditorState } from '@codemirror/state';
import { drawSelection, EditorView, keymap } from '@codemirror/view';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useRef, useState, type RefObject } from 'react';
import { call, type FormulaDrawing, type MarkupHelp } from '../../api/client';
import { guideQuery } from '../../api/queries';
import { Panel } from '../../ui/Panel';
import { formulaNeeds, frames, structures, type Formula, type FormulaPlace } from './formulas';

interface Props {
  manuscript: number;
  /** The formula that is changed; null: a new one is made. */
  formula: Formula | null;
  onDone: (markup: string, packages: string[]) => string | null;
  onClose: () => void;
}

type Sign = MarkupHelp['symbols'][number];

const kinds: { kind: Sign['kind']; name: string }[] = [
  { kind: 'greek', name: 'Greek' },
  { kind: 'relation', name: 'Relations' },
  { kind: 'arrow', name: 'Arrows' },
  { kind: 'operation', name: 'Operations' },
  { kind: 'large', name: 'Sums and integrals' },
  { kind: 'delimiter', name: 'Brackets' },
  { kind: 'other', name: 'Others' },
];
const places: { place: FormulaPlace; name: string }[] = [
  { place: 'line', name: 'In the line' },
  { place: 'display', name: 'On a line of its own' },
  { place: 'numbered', name: 'With a number' },
];

/** So many signs are shown at most. */
const MostSigns = 120;
const DrawAfter = 120;

/** The signs in whose names or words all of the typed words stand; those whose name it is come first. */
export function signsFor(all: readonly Sign[], kind: Sign['kind'], typed: string): Sign[] {
  const words = typed.toLowerCase().replace(/\\/g, '').split(/\s+/).filter(Boolean);
  if (words.length === 0) return all.filter((s) => s.kind === kind).slice(0, MostSigns);
  // Whoever looks for an arrow to the right says it in other words than Unicode does.
  const says = (s: Sign) => `${s.name} ${s.words} ${s.sign} ${s.words.replaceAll('wards', '')}`.toLowerCase();
  return all
    .filter((s) => words.every((w) => says(s).includes(w)))
    .sort(
      (a, b) =>
        Number(b.name === words[0]) - Number(a.name === words[0]) ||
        a.words.split(' ').length - b.words.split(' ').length,
    )
    .slice(0, MostSigns);
}

/** Helps to make a formula: signs by name, by kind and by words, structures to fill in, and the formula as it prints. */
export function FormulaHelper({ manuscript, formula, onDone, onClose }: Props) {
  const { data: guide } = useQuery(guideQuery);
  const view = useRef<EditorView | null>(null);
  const [body, setBody] = useState(formula?.body ?? '');
  const [place, setPlace] = useState<FormulaPlace>(formula?.place ?? 'line');
  const [kind, setKind] = useState<Sign['kind']>('greek');
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState('');
  const isAsIs = place === 'own' || place === formula?.place;
  const { open, close } = isAsIs && formula ? formula : frames[place as Exclude<FormulaPlace, 'own'>];
  const markup = `${open}${body.trim()}${close}`;
  const drawing = useDrawing(manuscript, body.trim() && markup);

  const put = (template: string) => {
    const editor = view.current;
    if (!editor) return;
    const { from, to } = editor.state.selection.main;
    snippet(template)(editor, null, from, to);
    editor.focus();
  };
  const putSign = (name: string) => {
    const editor = view.current;
    if (!editor) return;
    // A letter right behind would be read as part of the name.
    const next = editor.state.sliceDoc(editor.state.selection.main.to, editor.state.selection.main.to + 1);
    editor.dispatch(editor.state.replaceSelection(`\\${name}${/[A-Za-z]/.test(next) || next === '' ? ' ' : ''}`));
    editor.focus();
  };
  const done = () => setProblem(onDone(markup, formulaNeeds(markup)) ?? '');
  const signs = signsFor(guide?.symbols ?? [], kind, typed);

  return (
    <Panel
      title={formula ? 'The formula' : 'A new formula'}
      className="flex max-h-[92vh] w-[50rem] flex-col"
      onClose={onClose}
    >
      <div className="mt-3 grid grid-cols-2 gap-3">
        <FormulaText view={view} body={body} onChange={setBody} onDone={done} />
        <div
          className={`flex h-32 items-center justify-center overflow-auto rounded border border-rule p-3 ${drawing?.picture ? 'bg-sheet' : 'bg-page'}`}
          aria-live="polite"
        >
          {drawing?.picture ? (
            <img
              className="max-w-none"
              style={{ zoom: 1.35 }}
              alt={`The formula as it prints: ${body}`}
              src={`data:image/svg+xml;utf8,${encodeURIComponent(drawing.picture.svg)}`}
            />
          ) : (
            <span className="text-ink-2">
              {body.trim() ? 'Nothing of it prints yet.' : 'Here it is drawn while you write.'}
            </span>
          )}
        </div>
      </div>
      <ul className="mt-1.5 min-h-5 text-[12.5px] text-rubric-ink" aria-label="What is wrong in it">
        {drawing?.problems.slice(0, 2).map((p) => (
          <li key={p}>{p}</li>
        ))}
      </ul>
      {place !== 'own' && (
        <div role="radiogroup" aria-label="Where it stands" className="flex gap-4">
          {places.map((p) => (
            <label key={p.place} className="flex items-center gap-1.5">
              <input
                type="radio"
                name="formula-place"
                className="accent-slate"
                checked={place === p.place}
                onChange={() => setPlace(p.place)}
              />
              {p.name}
            </label>
          ))}
        </div>
      )}
      <div className="mt-3 flex flex-wrap gap-1" role="group" aria-label="Structures">
        {structures.map((s) => (
          <button
            key={s.name}
            className="button px-2 py-0.5 text-[12.5px]"
            title={s.template.replace(/\$\{([^}]*)\}/g, '$1')}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => put(s.template)}
          >
            <span className="font-serif text-slate" aria-hidden>
              {s.sign}
            </span>
            {s.name}
          </button>
        ))}
      </div>
      <div className="mt-3 flex items-center gap-3">
        <input
          className="field w-56"
          aria-label="Find a sign"
          placeholder="Find a sign: long arrow right"
          spellCheck={false}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== 'Enter' || !signs[0]) return;
            e.preventDefault();
            putSign(signs[0].name);
            setTyped('');
          }}
        />
        <div className="flex flex-wrap gap-x-2.5" role="group" aria-label="Kinds of signs">
          {kinds.map((k) => (
            <button
              key={k.kind}
              aria-pressed={!typed && kind === k.kind}
              className={`rounded px-1 text-[12.5px] hover:bg-paper ${!typed && kind === k.kind ? 'font-semibold underline decoration-rubric decoration-2 underline-offset-4' : 'text-ink-2'}`}
              onClick={() => {
                setKind(k.kind);
                setTyped('');
              }}
            >
              {k.name}
            </button>
          ))}
        </div>
      </div>
      <ul
        aria-label="Signs"
        className="mt-2 grid min-h-24 flex-1 auto-rows-min grid-cols-[repeat(auto-fill,2.4rem)] gap-1 overflow-y-auto"
      >
        {signs.map((s) => (
          <li key={s.name}>
            <button
              className="h-9 w-full rounded border border-transparent font-serif text-[18px] hover:border-rule hover:bg-paper"
              title={`\\${s.name}\n${s.words}`}
              aria-label={`${s.name}: ${s.words}`}
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => putSign(s.name)}
            >
              {s.sign}
            </button>
          </li>
        ))}
        {signs.length === 0 && typed && <li className="col-span-full text-ink-2">No sign has all of these words.</li>}
      </ul>
      {problem && (
        <p role="alert" className="mt-2 text-rubric">
          {problem}
        </p>
      )}
      <div className="mt-3 flex justify-end gap-2">
        <button className="button" onClick={onClose}>
          Leave it
        </button>
        <button className="button button-main" disabled={!body.trim()} onClick={done}>
          {formula ? 'Write it into the text' : 'Put it in'}
        </button>
      </div>
    </Panel>
  );
}

/** Where the formula is written. */
function FormulaText(props: {
  view: RefObject<EditorView | null>;
  body: string;
  onChange: (body: string) => void;
  onDone: () => void;
}) {
  const host = useRef<HTMLDivElement>(null);
  const { view } = props;
  const begin = useEffectEvent(() => props.body);
  const change = useEffectEvent(props.onChange);
  const done = useEffectEvent(props.onDone);
  useEffect(() => {
    const made = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: begin(),
        extensions: [
          history(),
          drawSelection(),
          closeBrackets(),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': 'Formula', 'aria-multiline': 'true', tabindex: '0' }),
          keymap.of([
            { key: 'Mod-Enter', run: () => (done(), true) },
            ...closeBracketsKeymap,
            ...defaultKeymap,
            ...historyKeymap,
          ]),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) change(u.state.doc.toString());
          }),
        ],
      }),
    });
    made.dispatch({ selection: { anchor: made.state.doc.length } });
    view.current = made;
    // The dialog puts the focus on its first button first.
    const timer = window.setTimeout(() => made.focus());
    return () => {
      window.clearTimeout(timer);
      made.destroy();
    };
  }, [view]);
  return <div ref={host} className="formula-source h-32 overflow-auto rounded border border-rule bg-page" />;
}

/** The formula as the engine draws it; the last drawing stays until there is another. */
function useDrawing(manuscript: number, markup: string): FormulaDrawing | null {
  const [drawing, setDrawing] = useState<FormulaDrawing | null>(null);
  useEffect(() => {
    const stop = new AbortController();
    const timer = window.setTimeout(() => {
      if (!markup) return setDrawing(null);
      call<FormulaDrawing>('POST', `/api/manuscripts/${manuscript}/formula`, { text: markup }, stop.signal).then(
        setDrawing,
        // Without a connection it is written as before, only not drawn.
        () => undefined,
      );
    }, DrawAfter);
    return () => {
      window.clearTimeout(timer);
      stop.abort();
    };
  }, [manuscript, markup]);
  return drawing;
}
