import { closeBrackets, closeBracketsKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands';
import { setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { highlightSelectionMatches, searchKeymap } from '@codemirror/search';
import { bracketMatching } from '@codemirror/language';
import { Compartment, EditorState, Transaction } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  highlightActiveLineGutter,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import { useEffect, useImperativeHandle, useRef, useState, type Ref } from 'react';
import type { Finding, ManuscriptFile, Repair } from '../api/client';
import { carets, setCarets, type Caret } from '../live/carets';
import type { Live, Place, Present } from '../live/live';
import { LargestInsert, openText, TextSync, saved, type SaveState } from '../live/textSync';
import { Citations, isRecord } from './citations';
import { markup } from './markup';

/** What the room asks of the source leaf. */
export interface SourceHandle {
  goTo: (line: number, column?: number) => void;
  /** Goes to a place of an earlier version of the text, wherever it is by now. */
  goToPlace: (offset: number, version: number) => void;
  /** Carries out a mend that was found in an earlier version; false when other words stand there by now. */
  mend: (repair: Repair, version: number) => Promise<boolean>;
  insert: (text: string) => void;
  forgetSources: () => void;
}

interface Props {
  live: Live;
  present: Present[];
  person: number;
  manuscript: number;
  file: ManuscriptFile;
  canWrite: boolean;
  findings: Finding[];
  /** The version of the text that the findings are of. */
  foundIn: number;
  ref: Ref<SourceHandle>;
  onSave: (state: SaveState) => void;
  onCursor: (line: number, column: number) => void;
  onReady: () => void;
  /** A record of a source was pasted; it isn't in the text. */
  onRecord: (text: string) => void;
  /** The text has to be fetched anew. */
  onRestart: () => void;
}

const naming = new Compartment();
const named = (path: string) =>
  EditorView.contentAttributes.of({ 'aria-label': `Source of ${path}`, spellcheck: 'true' });

/** The markup of one file, in an editor that saves by itself. */
export function SourceLeaf(props: Props) {
  const { live, present, person, manuscript, file, canWrite, findings, foundIn, ref } = props;
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const sync = useRef<TextSync | null>(null);
  const citations = useRef<Citations | null>(null);
  const events = useRef(props);
  const showOthers = useRef(() => {});
  const tellPlace = useRef(() => {});
  /** The place of each of the others that is shown already; from there on the text carries it along. */
  const located = useRef(new Map<string, Place>());
  const [problem, setProblem] = useState('');
  const [opened, setOpened] = useState(0);
  useEffect(() => {
    events.current = props;
    showOthers.current = () => {
      const link = sync.current;
      if (!view.current || !link) return;
      const here = present.filter((p) => p.place?.file === file.id);
      const moved: Caret[] = [];
      for (const { seat, person: who, place } of here) {
        if (!place || located.current.get(seat) === place) continue;
        const at = link.locate(place);
        if (!at) continue;
        located.current.set(seat, place);
        moved.push({ seat, clientId: place.clientId, name: who.name, colour: who.colour, ...at });
      }
      view.current.dispatch({ effects: setCarets.of({ moved, there: new Set(here.map((p) => p.seat)) }) });
    };
  });
  useEffect(() => showOthers.current(), [present, opened]);
  const seats = present
    .map((p) => p.seat)
    .sort()
    .join(' ');
  useEffect(() => {
    sync.current?.tellAnew();
    tellPlace.current();
  }, [seats]);

  useImperativeHandle(ref, () => ({
    goTo(line, column = 1) {
      const v = view.current;
      if (!v) return;
      const found = v.state.doc.line(Math.min(Math.max(line, 1), v.state.doc.lines));
      const at = Math.min(found.from + column - 1, found.to);
      v.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: 'center' }) });
      v.focus();
    },
    goToPlace(offset, version) {
      const v = view.current;
      if (!v) return;
      const carry = sync.current?.carrier(version);
      const at = Math.min(carry ? carry(offset, -1) : offset, v.state.doc.length);
      v.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: 'center' }) });
      v.focus();
    },
    async mend(repair, version) {
      const carry = await sync.current?.carrierFrom(version).catch(() => null);
      const v = view.current;
      if (!v || !carry) return false;
      const from = carry(repair.offset, repair.length > 0 ? 1 : -1);
      const to = Math.max(from, carry(repair.offset + repair.length, -1));
      const { doc } = v.state;
      const stands = (at: number, words: string) => doc.sliceString(at, at + words.length) === words;
      const fits =
        doc.sliceString(from, to) === repair.words &&
        (repair.length > 0 ||
          (from >= repair.before.length &&
            stands(from - repair.before.length, repair.before) &&
            stands(to, repair.after)));
      if (!fits) return false;
      v.dispatch({ changes: { from, to, insert: repair.text }, selection: { anchor: from + repair.text.length } });
      v.dispatch({ effects: EditorView.scrollIntoView(from, { y: 'center' }) });
      v.focus();
      return true;
    },
    insert(text) {
      const v = view.current;
      if (!v) return;
      v.dispatch(v.state.replaceSelection(text));
      v.focus();
    },
    forgetSources: () => citations.current?.forget(),
  }));

  useEffect(() => {
    let gone = false;
    let told = 0;
    // Where one is, a moment after it changed and once all of it is stored.
    const tell = () => {
      window.clearTimeout(told);
      told = window.setTimeout(() => {
        const place = sync.current?.news();
        if (place) live.here(place);
      }, 60);
    };
    tellPlace.current = tell;
    openText(manuscript, file, person).then(
      (begin) => {
        if (gone || !host.current) return;
        const link = new TextSync(
          live,
          file,
          begin,
          (s) => {
            events.current.onSave(s);
            if (s.waiting === 0) tell();
          },
          () => showOthers.current(),
          () => events.current.onRestart(),
        );
        sync.current = link;
        const pool = new Citations(`/api/manuscripts/${manuscript}/sources`);
        citations.current = pool;
        view.current = new EditorView({
          parent: host.current,
          state: link.restore(
            EditorState.create({
              doc: begin.text,
              extensions: [
                lineNumbers(),
                history(),
                drawSelection(),
                highlightActiveLine(),
                highlightActiveLineGutter(),
                highlightSelectionMatches(),
                bracketMatching(),
                closeBrackets(),
                EditorView.lineWrapping,
                naming.of(named(file.path)),
                EditorState.readOnly.of(!canWrite),
                keymap.of([...closeBracketsKeymap, ...defaultKeymap, ...historyKeymap, ...searchKeymap, indentWithTab]),
                ...(file.path.endsWith('.bib') ? [] : [pool.extension()]),
                EditorView.domEventHandlers({
                  paste: (event) => {
                    const pasted = event.clipboardData?.getData('text/plain') ?? '';
                    if (!canWrite || file.path.endsWith('.bib') || !isRecord(pasted)) return false;
                    events.current.onRecord(pasted);
                    return true;
                  },
                }),
                markup,
                // Longer texts come in as files: one paste of that size would hold up everyone.
                EditorState.changeFilter.of((transaction) => {
                  let size = 0;
                  transaction.changes.iterChanges((_a, _b, _c, _d, text) => (size += text.length));
                  if (size <= LargestInsert || transaction.annotation(Transaction.remote)) return true;
                  events.current.onSave({
                    ...saved,
                    problem: 'That is more than 2 million characters: upload it as a file.',
                  });
                  return false;
                }),
                carets,
                link.extension(),
                EditorView.updateListener.of((u) => {
                  if (u.selectionSet || u.docChanged) {
                    const head = u.state.selection.main.head;
                    const line = u.state.doc.lineAt(head);
                    events.current.onCursor(line.number, head - line.from + 1);
                    tell();
                  }
                }),
              ],
            }),
          ),
        });
        located.current.clear();
        setProblem('');
        setOpened((n) => n + 1);
        link.begin();
        tell();
        events.current.onReady();
      },
      (e: Error) => !gone && setProblem(e.message),
    );
    return () => {
      gone = true;
      window.clearTimeout(told);
      sync.current?.close();
      view.current?.destroy();
      view.current = null;
      sync.current = null;
    };
    // A file that is renamed stays open; others may be writing in it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [live, manuscript, person, file.id, canWrite]);

  useEffect(() => view.current?.dispatch({ effects: naming.reconfigure(named(file.path)) }), [file.path]);

  useEffect(() => {
    const v = view.current;
    if (!v) return;
    const marks: Diagnostic[] = [];
    // The text may be newer than the findings: their places are carried over what was typed since.
    const carry = sync.current?.carrier(foundIn);
    for (const f of findings) {
      if (f.file !== file.path || f.offset === null || !carry) continue;
      const from = Math.min(carry(f.offset, 1), v.state.doc.length);
      const to = Math.max(from, Math.min(carry(f.offset + Math.max(1, f.length), -1), v.state.doc.length));
      marks.push({
        from,
        to,
        severity: f.kind === 'fix' ? 'error' : f.kind === 'check' ? 'warning' : 'info',
        message: `${f.message} ${f.advice}`,
      });
    }
    v.dispatch(setDiagnostics(v.state, marks));
  }, [findings, foundIn, file.path, opened]);

  return (
    <div className="min-h-0 flex-1 overflow-hidden">
      {problem && (
        <p role="alert" className="p-4 text-rubric">
          {problem}
        </p>
      )}
      <div ref={host} className="h-full" data-testid="source" />
    </div>
  );
}
