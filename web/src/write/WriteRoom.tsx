import { SquarePen, UserPen } from 'lucide-react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import {
  post,
  type Finding,
  type FoundFile,
  type FoundPlace,
  type ManuscriptFile,
  type Note,
  type TypedNote,
  type OutlineLine,
  type ProofState,
} from '../api/client';
import { keys, newsQuery, queryClient } from '../api/queries';
import { LooksButton } from '../account/LooksButton';
import { ProofLeaf, type ProofHandle } from '../proof/ProofLeaf';
import { useNavigate } from 'react-router';
import type { ChosenPassage, PassageAct } from '../proof/ChosenBar';
import type { SourcePlace } from '../proof/proofMap';
import { useFollowing } from '../proof/useFollowing';
import { useProof } from '../proof/useProof';
import { useActions, type Pointing } from '../rooms/actions';
import type { StoredStretch } from '../live/textSync';
import { useRoom } from '../rooms/roomContext';
import { Announcer } from '../ui/Announcer';
import { useKept } from '../ui/useKept';
import { useLeafKeys } from '../ui/useLeafKeys';
import { useKey } from '../ui/useKey';
import { useStable } from '../ui/useStable';
import { citingCommand } from './citations';
import { FileRecord } from './FileRecord';
import { FindFace, type FindHandle } from './FindFace';
import { FindingsPane } from './FindingsPane';
import { KeySheet } from './KeySheet';
import { Leaves, type LeafName } from './Leaves';
import { usualLooks } from './looks';
import { makes } from './making/makes';
import { isPicture } from './making/pictures';
import { PutIn } from './making/PutIn';
import { useMaking } from './making/useMaking';
import { NewsStrip } from './NewsStrip';
import { sectionAt } from './outline';
import { SavedChip } from './SavedChip';
import { troubleOf, useSaving } from './saving';
import { SourceLeaf, type SourceHandle } from './SourceLeaf';
import type { Hint } from './source/hints';
import { placeOfDrop } from './source/incoming';
import { Spine } from './Spine';
import { HintOnce, WayOut } from './Notes';
import { RenameDialog } from './RenameDialog';
import { useLeft } from './useLeft';
import { useAuthors } from './useAuthors';
import { useMends } from './useMends';
import { NotesFace } from '../notes/NotesFace';
import { useNarrow } from '../ui/useNarrow';
import { useNames } from './useNames';
import { useNotes } from './useNotes';
import { useOpenFile } from './useOpenFile';

/** The Write room: source leaf, spine and proof leaf, in step. */
export default function WriteRoom() {
  const { manuscript, live, desk, canWrite, memory } = useRoom();
  const { id } = manuscript;
  const { file, line, gone, forgetGone, open } = useOpenFile(manuscript);
  const { proof, sheets, watch } = useProof(live, id, memory);
  const [problem, setProblem] = useState('');
  const [unfinished, setUnfinished] = useState<readonly Finding[]>(noFindings);
  const [hint, setHint] = useState<Hint | null>(null);
  const [record, setRecord] = useState('');
  /** The line of the cursor: within a line nothing that stands here changes. */
  const [cursorLine, setCursorLine] = useState(1);
  const [follows, setFollows] = useKept('follow', true);
  const [isQuiet, setIsQuiet] = useKept('quiet markup', false);
  const [leaf, setLeaf] = useState<LeafName>('source');
  const [face, setFace] = useKept('spine', 'structure');
  const [wantsSuggesting, setWantsSuggesting] = useState(false);
  const [found, setFound] = useState<FoundFile | null>(null);
  const finder = useRef<FindHandle>(null);
  const source = useRef<SourceHandle>(null);
  const pages = useRef<ProofHandle>(null);
  const afterOpening = useRef<(() => void) | null>(null);
  useLeafKeys();
  const [looks] = useKept('looks', usualLooks);
  const [showsAuthors, setShowsAuthors] = useKept('who wrote this', false);
  const authors = useAuthors(id, file?.id ?? 0, showsAuthors && file !== undefined);
  useEffect(() => void desk.look({ ...usualLooks, ...looks, isQuiet }), [desk, looks, isQuiet]);

  // A reviewer can’t but suggest; who writes may choose to.
  const suggests = manuscript.role === 'reviewer' || (canWrite && wantsSuggesting);
  useEffect(() => void desk.suggest(suggests), [desk, suggests]);
  useEffect(() => () => void desk.suggest(false), [desk]);

  useEffect(() => {
    document.title = `${manuscript.title} · Young Folio`;
  }, [manuscript.title]);

  const path = file?.path;
  const navigate = useNavigate();
  /** The file whose text is there. */
  const readyFor = useRef<string>(undefined);
  const openThen = useCallback(
    (wanted: string, go: () => void) => {
      setLeaf('source');
      // Of a text that is still on its way the last wish counts, not the one that opened it.
      if (wanted === path && readyFor.current === wanted) return go();
      afterOpening.current = go;
      if (wanted !== path) open(wanted);
    },
    [path, open],
  );
  const openAt = (wanted: string, at: number, column = 1, then?: () => void) =>
    openThen(wanted, () => {
      source.current?.goTo(at, column);
      then?.();
    });
  // A line in the address is gone to once: coming back later leads to where one was by then.
  const wentTo = useRef('');
  const ready = () => {
    readyFor.current = path;
    const wanted = `${path} ${line}`;
    if (afterOpening.current) afterOpening.current();
    else if (line && wentTo.current !== wanted) source.current?.goTo(line);
    wentTo.current = wanted;
    afterOpening.current = null;
  };

  const turn = useStable((entry: OutlineLine) => {
    if (entry.file && entry.line) openAt(entry.file, entry.line);
    if (entry.sheet) pages.current?.turnTo(entry.sheet);
  });
  const point = useStable((place: SourcePlace) => {
    openThen(place.file, () => source.current?.goToPlace(place.offset, foundIn(place.file)));
  });
  const cursorIn = useStable((of: ProofState): SourcePlace | null => {
    const offset = path === undefined ? null : source.current?.placeIn(of.versions[path] ?? 0);
    return path === undefined || offset === null || offset === undefined ? null : { file: path, offset };
  });
  const turnToCursor = useFollowing(follows, cursorIn, proof, pages);
  const foundIn = (of: string) => proof?.versions[of] ?? 0;
  const go = useStable((f: Finding) => {
    const { file: of, line: at, column, offset } = f;
    if (of && at) openAt(of, at, column ?? 1, () => source.current?.goToPlace(offset ?? 0, foundIn(of)));
  });
  const { asked: all, left, leave, takeUp } = useLeft(proof?.report.findings ?? noFindings, setProblem);
  const findings = useMemo(() => all.filter((f) => !unfinished.includes(f)), [all, unfinished]);
  const { mend, mendAll } = useMends({
    openAt: (r, then) => openAt(r.file, r.line, r.column, then),
    onMade: (made) => open(made.path),
    mendHere: (r, version) => source.current?.mend(r, version),
    foundIn,
    onProblem: setProblem,
  });
  const find = (words: string, isWide: boolean, replaces: boolean, isWhole = false) => {
    // The face has to be there first, whoever asks.
    flushSync(() => {
      setFace('find');
      setLeaf('spine');
    });
    finder.current?.begin(words, isWide, replaces, isWhole);
  };
  const isNarrow = useNarrow();
  const showNoted = (note: Note) => {
    if (!note.isGone && note.path)
      openThen(note.path, () => source.current?.showStretch(note.from, note.to - note.from, note.version));
  };
  const noted = useNotes((note) => {
    setFace('notes');
    // Where one leaf is shown at a time, the thread is what is wanted first.
    if (isNarrow) setLeaf('spine');
    else if (note) showNoted(note);
  });
  // Made once for what it shows, so that the spine isn’t drawn anew at every key.
  const chooseNote = useStable(noted.choose);
  const written = useStable(noted.written);
  const show = useStable(showNoted);
  const goTyped = useStable((note: TypedNote) =>
    openThen(note.path, () => source.current?.showStretch(note.from, note.to - note.from, note.version)),
  );
  const notesFace = useMemo(
    () => (
      <NotesFace
        notes={noted.notes}
        outline={proof?.report.outline ?? noOutline}
        filter={noted.filter}
        onFilter={noted.setFilter}
        chosen={noted.chosen}
        mayNote={noted.mayNote}
        writing={noted.writing}
        onChoose={chooseNote}
        onShow={isNarrow ? show : null}
        onGoTyped={goTyped}
        onWritten={written}
      />
    ),
    [
      noted.notes,
      noted.filter,
      noted.setFilter,
      proof,
      noted.chosen,
      noted.mayNote,
      noted.writing,
      isNarrow,
      chooseNote,
      written,
      show,
      goTyped,
    ],
  );
  const writeNote = useStable(() => {
    const held = file && noted.mayNote ? source.current?.text()?.holdChosen() : null;
    if (!file || !held) return;
    flushSync(() => {
      setFace('notes');
      setLeaf('spine');
    });
    noted.write(file.id, held);
  });
  const suggest = async (passage: StoredStretch, proposal: string, why: string) => {
    if (!file) return '';
    try {
      noted.read(
        await post<number>(`/api/manuscripts/${id}/notes`, { file: file.id, ...passage, text: why, proposal }),
      );
      return '';
    } catch (e) {
      return (e as Error).message;
    }
  };
  /** What one has to say of words on a page is said of the same words in their source. */
  const actOn = useStable((act: PassageAct, { file: of, from, to, isPoint, around }: ChosenPassage) => {
    openThen(of, () => {
      const text = source.current?.text();
      if (isPoint) text?.chooseThing(from, foundIn(of), around);
      else text?.chooseWords(from, to - from, foundIn(of));
      if (act === 'suggest') text?.suggestHere();
      else writeNote();
    });
  });
  const names = useNames({
    report: proof?.report,
    manuscript,
    canWrite,
    onOpen: (of, at) => openAt(of, at),
    onFind: (words) => find(words, true, false, true),
    onProblem: setProblem,
  });
  const making = useMaking({
    text: () => source.current?.text() ?? null,
    report: proof?.report,
    onProblem: setProblem,
  });
  /** The chosen words, or the page in view, for whoever speaks of them. */
  const pointAt = (kind: Pointing['kind']): Pointing | null => {
    if (kind === 'passage') {
      const held = file ? source.current?.text()?.holdChosen() : null;
      return file && held ? { kind, file: file.id, ...held, target: '' } : null;
    }
    const here = pages.current?.current();
    const of = here && manuscript.files.find((f) => f.path === here.place.file);
    if (!here || !of) return null;
    const from = here.place.offset;
    const stretch = { version: foundIn(of.path), from, to: from + PageWords };
    return {
      kind,
      file: of.id,
      words: '',
      stored: () => Promise.resolve(stretch),
      release: () => undefined,
      target: String(here.sheet),
    };
  };
  /** Pictures that are dropped on the source become figures there; on the proof, where its words are written. */
  const takeDrop = (dropped: File[], event: DragEvent) => {
    if (!dropped.every(isPicture)) return false;
    const text = source.current?.text();
    const at = text ? placeOfDrop(text.view, event) : null;
    if (at !== null) {
      making.pictures(dropped, at);
      return true;
    }
    const place = pages.current?.placeAt(event.clientX, event.clientY);
    if (!place) return false;
    openThen(place.file, () => {
      source.current?.goToPlace(place.offset, foundIn(place.file));
      making.pictures(dropped);
    });
    return true;
  };
  const showFound = useStable((of: FoundFile, place: FoundPlace) =>
    openThen(of.path, () => source.current?.showStretch(place.offset, place.length, of.version)),
  );
  const openFile = useStable((f: ManuscriptFile) => {
    setLeaf('source');
    open(f.path);
  });
  useActions(
    actions,
    (name) => {
      const make = makes.find((m) => m.action === name);
      if (make) return making.start(make.kind);
      const face = { 'Find in this file': false, 'Find in all files': true, 'Replace in all files': true }[name];
      if (face !== undefined) find('', face, name.startsWith('Replace'));
      else if (name === 'Follow the words in the proof') setFollows(!follows);
      else if (name === 'Quiet markup') setIsQuiet(!isQuiet);
      else if (name === 'Write a note') writeNote();
      else if (name === 'Suggest other words') source.current?.text()?.suggestHere();
      else if (name === 'Who wrote this') setShowsAuthors(!showsAuthors);
      else if (name === 'History of these words') showHistory();
      else openPdf();
    },
    (of, at) => openAt(of, at),
    takeDrop,
    pointAt,
  );
  /** The chosen words, or those of the line, through the whole history: also from other files, and under other names. */
  const showHistory = () => {
    const words = source.current?.text()?.chosenWords()?.replace(/\s+/g, ' ').trim();
    if (words) void navigate(`/m/${id}/chronicle?words=${encodeURIComponent(words.slice(0, MostFollowed))}`);
  };
  const openPdf = () => window.open(`/api/manuscripts/${id}/proof/pdf`, '_blank', 'noopener');
  useKey('Mod-p', openPdf);
  /** What is written is on its way already: the newest proof is fetched, and turns to the cursor. */
  const askProof = useStable(() => {
    void queryClient.invalidateQueries({ queryKey: keys.proof(id) });
    const place = proof && cursorIn(proof);
    if (place) pages.current?.show(place);
  });
  const moved = useStable((at: number) => {
    setCursorLine(at);
    turnToCursor();
  });

  const outline = proof?.report.outline ?? noOutline;
  const fileId = file?.id ?? 0;
  // The same element as long as what it shows is: the spine isn't drawn anew at every key.
  const findFace = useMemo(
    () => (
      <FindFace
        ref={finder}
        file={fileId}
        outline={outline}
        onShow={showFound}
        onFound={setFound}
        onLeave={() => source.current?.focus()}
      />
    ),
    [fileId, outline, showFound],
  );

  if (!file) {
    return <p className="p-10">There is no text in this manuscript. Upload a .tex file by dropping it here.</p>;
  }

  const section = outline[sectionAt(outline, file.path, cursorLine)];

  return (
    <>
      <Trouble />
      <NewsOfOthers
        onOpen={(of) => openAt(of, 1)}
        onNote={(id) => {
          const note = noted.notes?.find((n) => n.id === id);
          if (note) noted.choose(note);
        }}
      />
      <Leaves
        shown={leaf}
        onShow={setLeaf}
        source={
          <section aria-label="Source leaf" data-leaf="source" className="flex h-full min-h-0 flex-col bg-leaf">
            <header className="flex h-[37px] shrink-0 items-center gap-2.5 border-b border-rule px-3">
              <h2 className="max-w-[45%] shrink-0 truncate font-semibold">{section?.title ?? 'Beginning'}</h2>
              <span className="min-w-0 truncate text-[12.5px] text-ink-2">{file.path}</span>
              <Saving suggests={suggests} />
              {canWrite && <PutIn onMake={making.start} />}
              {canWrite && (
                <button
                  aria-label="Suggest instead of writing"
                  aria-pressed={suggests}
                  title="What you type from now on is a suggestion, and leaves the text as it is"
                  className={`shrink-0 rounded p-1 hover:bg-paper ${suggests ? 'bg-ochre-tint text-ochre-ink' : 'text-ink-2'}`}
                  onClick={() => setWantsSuggesting(!wantsSuggesting)}
                >
                  <SquarePen className="size-4" aria-hidden />
                </button>
              )}
              <QuietSwitch isQuiet={isQuiet} onQuiet={setIsQuiet} />
              <button
                aria-label="Who wrote this"
                aria-pressed={showsAuthors}
                title="Who wrote each line, and when, in the margin"
                className={`shrink-0 rounded p-1 hover:bg-paper ${showsAuthors ? 'bg-chosen text-ink' : 'text-ink-2'}`}
                onClick={() => setShowsAuthors(!showsAuthors)}
              >
                <UserPen className="size-4" aria-hidden />
              </button>
              <LooksButton look="text-ink-2 hover:bg-paper hover:text-ink" />
              <KeySheet />
            </header>
            {gone && (
              <p role="status" className="flex shrink-0 items-center gap-3 border-b border-rule bg-note px-3 py-1.5">
                <span className="min-w-0 flex-1">
                  <b className="font-medium">{gone}</b> was deleted. This is {file.path}.
                </span>
                <button className="button shrink-0 px-2 py-0.5" onClick={forgetGone}>
                  Good
                </button>
              </p>
            )}
            <Unsaved />
            <WayOut />
            {making.controls}
            <HintOnce hint={hint} onKnown={() => source.current?.focus()} />
            <SourceLeaf
              ref={source}
              file={file}
              findings={all}
              foundIn={foundIn(file.path)}
              onCursor={moved}
              onReady={ready}
              onRecord={setRecord}
              onCells={making.cells}
              onPictures={making.pictures}
              onProof={askProof}
              onMake={making.start}
              onFind={find}
              onFindStep={(by) => finder.current?.step(by)}
              onName={names.act}
              onUnfinished={setUnfinished}
              onHint={setHint}
              found={found?.file === file.id ? found : null}
              authors={authors}
              notes={noted.notes ?? noNotes}
              note={noted.chosen}
              mayNote={noted.mayNote}
              onNote={writeNote}
              onSuggest={suggest}
              onOpenNote={(of) => {
                noted.read(of);
                if (!isNarrow) setFace('notes');
              }}
            />
            <FindingsPane
              findings={findings}
              canWrite={canWrite}
              problem={problem}
              onGo={go}
              onMend={mend}
              onMendAll={mendAll}
              left={left}
              onLeave={leave}
              onTakeUp={takeUp}
            />
          </section>
        }
        spine={(fold) => (
          <Spine
            fold={fold}
            report={proof?.report ?? null}
            findings={findings}
            versions={proof?.versions ?? noVersions}
            file={file}
            line={cursorLine}
            onTurn={turn}
            onOpen={openFile}
            face={face}
            onFace={setFace}
            find={findFace}
            openNotes={noted.open}
            notes={notesFace}
          />
        )}
        proof={
          <ProofLeaf
            ref={pages}
            proof={proof}
            sheets={sheets}
            findings={findings}
            watch={watch}
            follows={follows}
            onFollow={setFollows}
            onPoint={point}
            onPassage={noted.mayNote ? actOn : null}
          />
        }
      />
      {names.renaming && <RenameDialog of={names.renaming} onClose={names.endRenaming} />}
      {record && (
        <FileRecord
          manuscript={id}
          text={record}
          command={citingCommand(proof?.report.packages.map((p) => p.name) ?? [])}
          onCite={(citation) => {
            setRecord('');
            source.current?.insert(citation);
          }}
          onPlain={() => {
            source.current?.insert(record);
            setRecord('');
          }}
          onClose={() => setRecord('')}
        />
      )}
    </>
  );
}

/** So much of what stands at a page’s upper edge says which page it is. */
const PageWords = 24;

const noFindings: Finding[] = [];
const noNotes: Note[] = [];

/** What can be done in this room by name. */
const actions = [
  ...makes.map(({ action, key }) => ({ name: action, key })),
  { name: 'Find in this file', key: 'Mod-f' },
  { name: 'Find in all files', key: 'Mod-Shift-f' },
  { name: 'Replace in all files', key: 'Mod-h' },
  { name: 'Follow the words in the proof' },
  { name: 'Quiet markup' },
  { name: 'Who wrote this' },
  { name: 'History of these words' },
  { name: 'Write a note', key: 'Mod-Alt-n' },
  { name: 'Suggest other words', key: 'Mod-Alt-s' },
  { name: 'The proof as a PDF', key: 'Mod-p' },
];

/** So many signs are followed through the history, at most. */
const MostFollowed = 500;

/** How long what was asked for by key is said, in milliseconds. */
const SaidFor = 2500;
const noOutline: OutlineLine[] = [];
const noVersions: Record<string, number> = {};

/** How saving stands. Whoever saves by key, as hands do elsewhere, sees for a moment that it is done already. */
function Saving({ suggests }: { suggests: boolean }) {
  const [isAsked, setIsAsked] = useState(false);
  const timer = useRef(0);
  useKey('Mod-s', () => {
    setIsAsked(true);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => setIsAsked(false), SaidFor);
  });
  useEffect(() => () => window.clearTimeout(timer.current), []);
  return <SavedChip suggests={suggests} isAsked={isAsked} />;
}

/** Lets the markup step back behind the words. */
function QuietSwitch({ isQuiet, onQuiet }: { isQuiet: boolean; onQuiet: (isQuiet: boolean) => void }) {
  return (
    <button
      aria-pressed={isQuiet}
      title="Commands small and grey, headings large, emphasis as emphasis. The text itself stays as it is."
      className={`shrink-0 rounded px-1.5 py-0.5 hover:bg-paper ${isQuiet ? 'font-semibold' : 'text-ink-2'}`}
      onClick={() => onQuiet(!isQuiet)}
    >
      Quiet
    </button>
  );
}

function Trouble() {
  return <Announcer trouble={useSaving(troubleOf)} over="Everything is saved again." />;
}

function Unsaved() {
  const problem = useSaving((save) => save.problem);
  return (
    problem && (
      <p role="alert" className="shrink-0 border-b border-rule bg-rubric-tint px-3 py-2 text-rubric-ink">
        {problem}
      </p>
    )
  );
}

/** What others did while one was away, until it was seen. */
function NewsOfOthers({ onOpen, onNote }: { onOpen: (path: string) => void; onNote: (note: number) => void }) {
  const { manuscript } = useRoom();
  const client = useQueryClient();
  const { data: news } = useQuery(newsQuery(manuscript.id));
  const seen = useMutation({
    mutationFn: () => post(`/api/manuscripts/${manuscript.id}/seen`, {}),
    onMutate: () =>
      client.setQueryData(newsQuery(manuscript.id).queryKey, (known) => known && { ...known, items: [], settled: [] }),
    onError: () => client.invalidateQueries({ queryKey: keys.news(manuscript.id) }),
  });
  if (!news || news.items.length + news.settled.length === 0) return null;
  return <NewsStrip news={news} onOpen={onOpen} onNote={onNote} onSeen={() => seen.mutate()} />;
}
