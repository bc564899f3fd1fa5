import { closeBrackets, closeBracketsKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands';
import { setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { highlightSelectionMatches, searchKeymap } from '@codemirror/search';
import { bracketMatching } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  highlightActiveLineGutter,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import { useEffect, useImperativeHandle, useRef, useState, type Ref } from 'react';
import { get, type Finding, type Part, type PartText } from '../api/client';
import { Citations, isRecord } from './citations';
import { markup } from './markup';
import { PartSync, type SaveState } from './sync';

/** What the room asks of the source leaf. */
export interface SourceHandle {
  goTo: (line: number, column?: number) => void;
  replace: (line: number, column: number, length: number, text: string) => void;
  insert: (text: string) => void;
  forgetSources: () => void;
  pull: (part: number, version: number) => void;
  catchUp: () => void;
  flush: () => Promise<void>;
}

interface Props {
  manuscript: number;
  part: Part;
  canWrite: boolean;
  findings: Finding[];
  ref: Ref<SourceHandle>;
  onSave: (state: SaveState) => void;
  onCursor: (line: number, column: number) => void;
  onReady: () => void;
  /** A record of a source was pasted; it isn't in the text. */
  onRecord: (text: string) => void;
}

/** The markup of one part, in an editor that saves by itself. */
export function SourceLeaf({ manuscript, part, canWrite, findings, ref, onSave, onCursor, onReady, onRecord }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const sync = useRef<PartSync | null>(null);
  const citations = useRef<Citations | null>(null);
  const events = useRef({ onSave, onCursor, onReady, onRecord });
  const [problem, setProblem] = useState('');
  const [opened, setOpened] = useState(0);
  useEffect(() => {
    events.current = { onSave, onCursor, onReady, onRecord };
  });

  useImperativeHandle(ref, () => ({
    goTo(line, column = 1) {
      const v = view.current;
      if (!v) return;
      const found = v.state.doc.line(Math.min(Math.max(line, 1), v.state.doc.lines));
      const at = Math.min(found.from + column - 1, found.to);
      v.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: 'center' }) });
      v.focus();
    },
    replace(line, column, length, text) {
      const v = view.current;
      if (!v) return;
      const at = Math.min(v.state.doc.line(Math.min(line, v.state.doc.lines)).from + column - 1, v.state.doc.length);
      v.dispatch({
        changes: { from: at, to: Math.min(at + length, v.state.doc.length), insert: text },
        selection: { anchor: at + text.length },
      });
      v.focus();
    },
    insert(text) {
      const v = view.current;
      if (!v) return;
      v.dispatch(v.state.replaceSelection(text));
      v.focus();
    },
    forgetSources: () => citations.current?.forget(),
    pull(id, version) {
      if (id === part.id) void sync.current?.pull(version);
    },
    catchUp: () => void sync.current?.catchUp(),
    flush: async () => sync.current?.flush(),
  }));

  useEffect(() => {
    let gone = false;
    const path = `/api/manuscripts/${manuscript}/parts/${part.id}`;
    get<PartText>(path).then(
      (text) => {
        if (gone || !host.current) return;
        const link = new PartSync(path, (s) => events.current.onSave(s));
        sync.current = link;
        const pool = new Citations(`/api/manuscripts/${manuscript}/sources`);
        citations.current = pool;
        view.current = new EditorView({
          parent: host.current,
          state: EditorState.create({
            doc: text.text,
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
              EditorView.contentAttributes.of({ 'aria-label': `Source of ${part.path}`, spellcheck: 'true' }),
              EditorState.readOnly.of(!canWrite),
              keymap.of([...closeBracketsKeymap, ...defaultKeymap, ...historyKeymap, ...searchKeymap, indentWithTab]),
              ...(part.path.endsWith('.bib') ? [] : [pool.extension()]),
              EditorView.domEventHandlers({
                paste: (event) => {
                  const pasted = event.clipboardData?.getData('text/plain') ?? '';
                  if (!canWrite || part.path.endsWith('.bib') || !isRecord(pasted)) return false;
                  events.current.onRecord(pasted);
                  return true;
                },
              }),
              markup,
              link.extension(text.version),
              EditorView.updateListener.of((u) => {
                if (u.selectionSet || u.docChanged) {
                  const head = u.state.selection.main.head;
                  const line = u.state.doc.lineAt(head);
                  events.current.onCursor(line.number, head - line.from + 1);
                }
              }),
            ],
          }),
        });
        events.current.onSave({ waiting: 0, offline: false, problem: '' });
        setProblem('');
        setOpened((n) => n + 1);
        void link.catchUp();
        events.current.onReady();
      },
      (e: Error) => !gone && setProblem(e.message),
    );
    return () => {
      gone = true;
      const link = sync.current;
      void link?.flush().finally(() => link.close());
      view.current?.destroy();
      view.current = null;
      sync.current = null;
    };
  }, [manuscript, part.id, part.path, canWrite]);

  useEffect(() => {
    const v = view.current;
    if (!v) return;
    const marks: Diagnostic[] = [];
    for (const f of findings) {
      if (f.part !== part.path || !f.line || f.line > v.state.doc.lines) continue;
      const line = v.state.doc.line(f.line);
      const from = Math.min(line.from + (f.column ?? 1) - 1, line.to);
      const to = Math.max(from, Math.min(from + Math.max(1, f.length), v.state.doc.length));
      marks.push({
        from,
        to,
        severity: f.kind === 'fix' ? 'error' : f.kind === 'check' ? 'warning' : 'info',
        message: `${f.message} ${f.advice}`,
      });
    }
    v.dispatch(setDiagnostics(v.state, marks));
  }, [findings, part.path, opened]);

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
