import {
  useEffect,
  useEffectEvent,
  useImperativeHandle,
  useLayoutEffect,
  useRef,
  useState,
  useSyncExternalStore,
  type Ref,
} from 'react';
import type { Finding, FoundFile, ManuscriptFile, Note, Repair } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { Waiting } from '../ui/Waiting';
import type { Pointed } from './completion/pointed';
import type { MakeKind } from './making/makes';
import type { OpenText, TextListener } from './openText';
import type { Hint } from './source/hints';
import { NoteWanted } from './source/selectionBar';
import { suggestionOf } from '../notes/notes';
import type { Authors } from './useAuthors';
import type { NameAct } from './useNames';

const RetryAfter = 2000;

/** What the room asks of the source leaf. */
export interface SourceHandle {
  goTo: (line: number, column?: number) => void;
  /** Goes to a place of an earlier version of the text, wherever it is by now. */
  goToPlace: (offset: number, version: number) => void;
  /** Where the cursor's place is in an earlier version of the text; null when that isn't known. */
  placeIn: (version: number) => number | null;
  /** Carries out a mend that was found in an earlier version; false when other words stand there by now. */
  mend: (repair: Repair, version: number) => Promise<boolean>;
  insert: (text: string) => void;
  /** Shows a stretch of an earlier version of the text; the focus stays where it is. */
  showStretch: (offset: number, length: number, version: number) => void;
  focus: () => void;
  /** The text that is shown. */
  text: () => OpenText | null;
}

interface Props {
  file: ManuscriptFile;
  findings: Finding[];
  /** The version of the text that the findings are of. */
  foundIn: number;
  ref: Ref<SourceHandle>;
  onCursor: (line: number, column: number) => void;
  /** The text is there, for the first time or again. */
  onReady: () => void;
  onRecord: (text: string) => void;
  onCells: (text: string) => void;
  onPictures: (files: File[], at: number) => void;
  onFind: (words: string, isWide: boolean, replaces: boolean) => void;
  onFindStep: (by: 1 | -1) => void;
  onProof: () => void;
  onMake: (kind: MakeKind) => void;
  onName: (name: Pointed, act: NameAct) => void;
  onUnfinished: (findings: readonly Finding[]) => void;
  onHint: (hint: Hint) => void;
  /** What was found in this text. */
  found: FoundFile | null;
  /** The notes on its passages, and the one that is chosen. */
  notes: readonly Note[];
  note: number;
  mayNote: boolean;
  /** A note is wanted on what is chosen. */
  onNote: () => void;
  onSuggest: TextListener['onSuggest'];
  onOpenNote: (id: number) => void;
  /** Who wrote what of it, where that is wanted. */
  authors: Authors | null;
}

/** Shows the markup of one file. The text itself is kept on the desk, so that going away and back loses nothing. */
export function SourceLeaf({ file, findings, foundIn, found, authors, notes, note, mayNote, ref, ...events }: Props) {
  const { desk, present } = useRoom();
  const host = useRef<HTMLDivElement>(null);
  const [text, setText] = useState<OpenText | null>(null);
  const [failure, setFailure] = useState<Error | null>(null);
  const round = useSyncExternalStore(desk.listen, () => desk.round);
  const onCursor = useEffectEvent(events.onCursor);
  const onRecord = useEffectEvent(events.onRecord);
  const onCells = useEffectEvent(events.onCells);
  const onPictures = useEffectEvent(events.onPictures);
  const onFind = useEffectEvent(events.onFind);
  const onFindStep = useEffectEvent(events.onFindStep);
  const onProof = useEffectEvent(events.onProof);
  const onMake = useEffectEvent(events.onMake);
  const onName = useEffectEvent(events.onName);
  const onUnfinished = useEffectEvent(events.onUnfinished);
  const onHint = useEffectEvent(events.onHint);
  const onReady = useEffectEvent(events.onReady);
  const onSuggest = useEffectEvent(events.onSuggest);
  const fileNow = useEffectEvent(() => file);

  useEffect(() => {
    let gone = false;
    let timer = 0;
    let shown: OpenText | null = null;
    const open = () =>
      desk.open(fileNow()).then(
        (opened) => {
          if (gone || !host.current) return;
          shown = opened;
          setFailure(null);
          setText(opened);
          opened.show(host.current, {
            onCursor: (line, column) => onCursor(line, column),
            onRecord: (pasted) => onRecord(pasted),
            onCells: (pasted) => onCells(pasted),
            onPictures: (files, at) => onPictures(files, at),
            onFind: (...wish) => onFind(...wish),
            onFindStep: (by) => onFindStep(by),
            onProof: () => onProof(),
            onMake: (kind) => onMake(kind),
            onName: (name, act) => onName(name, act),
            onUnfinished: (of) => onUnfinished(of),
            onHint: (hint) => onHint(hint),
            onSuggest: (...suggestion) => onSuggest(...suggestion),
          });
        },
        (e: Error) => {
          if (gone) return;
          setFailure(e);
          timer = window.setTimeout(() => void open(), RetryAfter);
        },
      );
    void open();
    return () => {
      gone = true;
      window.clearTimeout(timer);
      shown?.hide();
      setText(null);
    };
  }, [desk, file.id, round]);

  // Once the handle is that of this text.
  useEffect(() => {
    if (text) onReady();
  }, [text]);

  // In another room one is nowhere in the text.
  const leave = useEffectEvent(() => text?.leave());
  useEffect(() => () => leave(), []);

  useLayoutEffect(() => text?.rename(file), [text, file]);
  useEffect(() => text?.showPresent(present), [text, present]);
  // Before anything is painted: a finding on the word that is being typed isn't shown for a moment first.
  useLayoutEffect(() => text?.mark(findings, foundIn), [text, findings, foundIn]);

  useEffect(() => text?.markFound(found?.places ?? [], found?.version ?? 0), [text, found]);

  useEffect(
    () =>
      text?.markNotes(
        notes
          .filter((n) => n.file === file.id && !n.isGone && (n.settledBy === null || n.id === note))
          .map((n) => ({
            id: n.id,
            version: n.version,
            from: n.from,
            to: n.to,
            isChosen: n.id === note,
            suggestion: suggestionOf(n),
          })),
      ),
    [text, file.id, notes, note],
  );
  const onNote = useEffectEvent(events.onNote);
  const onOpenNote = useEffectEvent(events.onOpenNote);
  useEffect(() => {
    const box = host.current;
    const ask = () => onNote();
    const open = (event: MouseEvent) => {
      const noted = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-note]') : null;
      if (noted) onOpenNote(Number(noted.dataset.note));
    };
    box?.addEventListener(NoteWanted, ask);
    box?.addEventListener('click', open);
    return () => {
      box?.removeEventListener(NoteWanted, ask);
      box?.removeEventListener('click', open);
    };
  }, []);

  useEffect(() => text?.showAuthors(authors?.stretches ?? null, authors?.version ?? 0), [text, authors]);

  useImperativeHandle(ref, () => ({
    goTo: (line, column) => text?.goTo(line, column),
    goToPlace: (offset, version) => text?.goToPlace(offset, version),
    placeIn: (version) => text?.placeIn(version) ?? null,
    mend: (repair, version) => text?.mend(repair, version) ?? Promise.resolve(false),
    insert: (words) => text?.insert(words),
    showStretch: (offset, length, version) => text?.showStretch(offset, length, version),
    focus: () => text?.view.focus(),
    text: () => text,
  }));

  return (
    <div className="min-h-0 flex-1 overflow-hidden">
      {!text && <Waiting what="The text" failure={failure} />}
      <div ref={host} className="h-full" data-testid="source" data-reads={mayNote ? undefined : true} />
    </div>
  );
}
