import { CloudOff } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useParams, useSearchParams } from 'react-router';
import {
  get,
  post,
  type Finding,
  type Manuscript,
  type News,
  type OutlineLine,
  type PageSpot,
  type ManuscriptFile,
  type Person,
  type Place,
  type ProofState,
} from '../api/client';
import { saved, type SaveState } from '../live/textSync';
import type { LostWords } from '../live/live';
import { dropUnsent } from '../live/unsentStore';
import { useLive } from '../live/useLive';
import { RoomHeader } from '../ui/RoomHeader';
import { Unavailable } from '../ui/Unavailable';
import { citingCommand } from './citations';
import { FileRecord } from './FileRecord';
import { FindingsPane } from './FindingsPane';
import { NewsStrip } from './NewsStrip';
import { ProofLeaf, type ProofHandle } from './ProofLeaf';
import { Refused } from './Refused';
import { SourceLeaf, type SourceHandle } from './SourceLeaf';
import { Spine } from './Spine';

/** The Write room: source leaf, spine and proof leaf, in step. */
export function WriteRoom({ person }: { person: Person }) {
  const id = Number(useParams().id);
  const [search, setSearch] = useSearchParams();
  const [manuscript, setManuscript] = useState<Manuscript | null>(null);
  const [proof, setProof] = useState<ProofState | null>(null);
  const [revision, setRevision] = useState<number | null>(null);
  const [busy, setBusy] = useState(true);
  const [failed, setFailed] = useState('');
  const { live, present, connected } = useLive(id, person.id);
  const [save, setSave] = useState<SaveState>(saved);
  const [round, setRound] = useState(0);
  const [lost, setLost] = useState<LostWords | null>(null);
  const [open, setOpen] = useState<Open | null>(null);
  const [gone, setGone] = useState('');
  const [unmended, setUnmended] = useState('');
  const [news, setNews] = useState<News | null>(null);
  const [record, setRecord] = useState('');
  const [cursor, setCursor] = useState({ line: 1, column: 1 });
  const [follows, setFollows] = useState(() => localStorage.getItem('folio.follow') !== 'no');
  const source = useRef<SourceHandle>(null);
  const pages = useRef<ProofHandle>(null);
  /** Counts how often a newer proof was asked for. */
  const asked = useRef(0);
  const afterOpening = useRef<(() => void) | null>(null);

  const loadManuscript = useCallback(
    () => get<Manuscript>(`/api/manuscripts/${id}`).then(setManuscript, (e: Error) => setFailed(e.message)),
    [id],
  );
  const loadProof = useCallback(() => {
    const before = asked.current;
    return get<ProofState>(`/api/manuscripts/${id}/proof`).then(
      (p) => {
        setProof(p);
        setRevision((r) => Math.max(r ?? 0, p.revision));
        // Something may have changed while this was on its way.
        if (before === asked.current) setBusy(p.isBehind);
      },
      () => setBusy(false),
    );
  }, [id]);

  useEffect(() => {
    void loadManuscript();
    void loadProof();
    get<News>(`/api/manuscripts/${id}/news`).then(setNews, () => undefined);
  }, [id, loadManuscript, loadProof]);

  useEffect(() => {
    if (!live) return;
    const off = [
      live.on('joined', () => {
        void loadManuscript();
        void loadProof();
      }),
      live.on('compiling', () => {
        asked.current++;
        setBusy(true);
      }),
      live.on('proof', (made) => {
        // The pages are fetched at once, beside the report.
        setRevision((r) => Math.max(r ?? 0, made));
        void loadProof();
        source.current?.forgetSources();
      }),
      live.on('failed', () => setBusy(false)),
      live.on('files', () => void loadManuscript()),
      live.on('people', () => void loadManuscript()),
      live.on('gone', () => setFailed('This manuscript is no longer on your shelf.')),
      live.on('restored', () => setRevision(null)),
      live.on('refused', setLost),
    ];
    return () => off.forEach((f) => f());
  }, [live, loadManuscript, loadProof]);

  useEffect(() => {
    if (manuscript) document.title = `${manuscript.title} · Young Folio`;
  }, [manuscript]);

  // Links from when files were called parts still lead here.
  const path = search.get('file') ?? search.get('part');
  const file = chooseFile(manuscript, path, open);
  // Others may rename or delete what is open: a file goes on under its new name, and the loss of one is told.
  if (manuscript && open && open.path === path && !manuscript.files.some((p) => p.id === open.id)) {
    setGone(open.path ?? '');
    setOpen(null);
  } else if (file && file.path === (path ?? file.path) && (open?.id !== file.id || open.path !== path)) {
    setOpen({ id: file.id, path });
  }
  const isMoved = file !== null && path !== null && path !== file.path && (open?.path === path || gone === path);
  useEffect(() => {
    if (isMoved) setSearch({ file: file.path }, { replace: true });
  }, [isMoved, file, setSearch]);
  const canWrite = manuscript !== null && (manuscript.role === 'owner' || manuscript.role === 'author');

  const openAt = useCallback(
    (path: string, line: number, column = 1, then?: () => void) => {
      const go = () => {
        source.current?.goTo(line, column);
        then?.();
      };
      if (path === file?.path) {
        go();
      } else {
        afterOpening.current = go;
        setSearch({ file: path, line: String(line) });
      }
    },
    [file?.path, setSearch],
  );

  // The proof turns to the words being written.
  useEffect(() => {
    if (!follows || !file || !proof) return;
    const timer = window.setTimeout(() => {
      get<PageSpot | null>(
        `/api/manuscripts/${id}/proof/spot?file=${encodeURIComponent(file.path)}&line=${cursor.line}&column=${cursor.column}`,
      ).then(
        (spot) => spot && pages.current?.show(spot),
        () => undefined,
      );
    }, 150);
    return () => window.clearTimeout(timer);
  }, [follows, id, file, proof, cursor]);

  if (failed) return <Unavailable why={failed} />;
  if (!manuscript || !file || !live) return null;

  const turn = (entry: OutlineLine) => {
    if (entry.file && entry.line) openAt(entry.file, entry.line);
    if (entry.sheet) pages.current?.turnTo(entry.sheet);
  };
  const point = async (sheet: number, x: number, y: number) => {
    const place = await get<Place | null>(`/api/manuscripts/${id}/proof/source?sheet=${sheet}&x=${x}&y=${y}`).catch(
      () => null,
    );
    if (place) openAt(place.file, place.line, place.column);
  };
  const foundIn = (path: string) => proof?.versions[path] ?? 0;
  const go = (f: Finding) => {
    const { file: path, line, column, offset } = f;
    if (path && line) openAt(path, line, column ?? 1, () => source.current?.goToPlace(offset ?? 0, foundIn(path)));
  };
  const mend = (f: Finding) => {
    const r = f.repair;
    if (!r) return;
    setUnmended('');
    openAt(r.file, r.line, r.column, () => {
      void source.current
        ?.mend(r, foundIn(r.file))
        .then(
          (done) =>
            !done &&
            setUnmended(
              `Other words stand there by now. Look at line ${r.line} of ${r.file} yourself, or wait for the next proof.`,
            ),
        );
    });
  };
  const openText = (p: ManuscriptFile) => {
    setGone('');
    setSearch({ file: p.path });
  };
  const section = proof?.report.outline.findLast((e) => e.file === file.path && (e.line ?? 0) <= cursor.line);
  const state = proof ? `current · ${Math.round(proof.milliseconds)} ms` : 'no proof yet';

  return (
    <div className="flex h-full flex-col">
      <RoomHeader manuscript={manuscript} person={person} room="Write" present={present} />
      {news && news.items.length > 0 && (
        <NewsStrip
          news={news}
          onOpen={(path) => openAt(path, 1)}
          onSeen={() => {
            setNews(null);
            void post(`/api/manuscripts/${id}/seen`, {}).catch(() => undefined);
          }}
        />
      )}
      <main className="min-h-0 flex-1 p-2.5">
        <Group id="leaves" className="h-full overflow-hidden rounded-md shadow-[0_1px_6px_rgb(31_42_55/18%)]">
          <Panel id="source" defaultSize="43%" minSize="20%">
            <section aria-label="Source leaf" className="flex h-full min-h-0 flex-col bg-leaf">
              <header className="flex h-[37px] shrink-0 items-center gap-2.5 border-b border-rule px-3">
                <h2 className="max-w-[45%] truncate font-semibold">{section?.title ?? 'Beginning'}</h2>
                <span className="truncate text-[12.5px] text-ink-2">{file.path}</span>
                <SavedChip save={save} connected={connected} canWrite={canWrite} />
              </header>
              {gone && (
                <p
                  role="status"
                  className="flex shrink-0 items-center gap-3 border-b border-rule bg-[#f7f1e0] px-3 py-1.5"
                >
                  <span className="min-w-0 flex-1">
                    <b className="font-medium">{gone}</b> was deleted. This is {file.path}.
                  </span>
                  <button className="button shrink-0 px-2 py-0.5" onClick={() => setGone('')}>
                    Good
                  </button>
                </p>
              )}
              {save.problem && (
                <p role="alert" className="shrink-0 border-b border-rule bg-[#fbeeeb] px-3 py-2 text-[#9a2b20]">
                  {save.problem}
                </p>
              )}
              <SourceLeaf
                key={`${file.id} ${round}`}
                ref={source}
                live={live}
                present={present}
                person={person.id}
                manuscript={id}
                file={file}
                canWrite={canWrite}
                findings={proof?.report.findings ?? noFindings}
                foundIn={foundIn(file.path)}
                onSave={setSave}
                onCursor={(line, column) => setCursor({ line, column })}
                onRecord={setRecord}
                onRestart={() => setRound((n) => n + 1)}
                onReady={() => {
                  const line = Number(search.get('line'));
                  if (afterOpening.current) afterOpening.current();
                  else if (line) source.current?.goTo(line);
                  afterOpening.current = null;
                }}
              />
              <FindingsPane
                findings={proof?.report.findings ?? noFindings}
                canWrite={canWrite}
                problem={unmended}
                onGo={go}
                onMend={mend}
              />
            </section>
          </Panel>
          <Separator className="w-0.5 bg-[#cfc6b3] hover:bg-slate" />
          <Panel id="spine" defaultSize="16.5%" minSize="10%" collapsible collapsedSize="0%">
            <Spine
              manuscript={manuscript}
              report={proof?.report ?? null}
              file={file}
              line={cursor.line}
              canWrite={canWrite}
              present={present}
              onTurn={turn}
              onOpen={openText}
            />
          </Panel>
          <Separator className="w-0.5 bg-[#cfc6b3] hover:bg-slate" />
          <Panel id="proof" minSize="20%">
            <ProofLeaf
              ref={pages}
              manuscript={id}
              title={manuscript.title}
              revision={revision}
              present={present}
              files={manuscript.files}
              state={state}
              isStopped={save.offline || save.problem !== ''}
              isBusy={busy || save.waiting > 0}
              follows={follows}
              onFollow={(f) => {
                setFollows(f);
                localStorage.setItem('folio.follow', f ? 'yes' : 'no');
              }}
              onPoint={(sheet, x, y) => void point(sheet, x, y)}
            />
          </Panel>
        </Group>
      </main>
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
      {lost && (
        <Refused
          words={lost.words}
          why={lost.why}
          onDone={() => {
            void dropUnsent(lost.clientId);
            setLost(null);
            setSave(saved);
            setRound((n) => n + 1);
          }}
        />
      )}
    </div>
  );
}

const noFindings: Finding[] = [];

/** The file that the address names, or else the main file. */
/** A file, and the address that it was opened with; null: as the main file. */
interface Open {
  id: number;
  path: string | null;
}

/** The file at an address. The one that is open stays so under another name. */
function chooseFile(manuscript: Manuscript | null, path: string | null, open: Open | null) {
  const texts = manuscript?.files.filter((p) => p.isText) ?? [];
  return (
    texts.find((p) => p.id === open?.id && path === open.path) ??
    texts.find((p) => p.path === path) ??
    texts.find((p) => p.path === manuscript?.mainFile) ??
    null
  );
}

function SavedChip({ save, connected, canWrite }: { save: SaveState; connected: boolean; canWrite: boolean }) {
  const base = 'chip ml-auto';
  if (!canWrite) {
    return <span className={`${base} bg-[#ebe7dd] text-ink-2`}>you may read this</span>;
  }
  if (save.offline || !connected) {
    return (
      <span role="status" className={`${base} bg-[#f7ecd2] text-[#7c5406]`}>
        <CloudOff className="size-3.5" aria-hidden />
        {save.waiting > 0
          ? `${save.waiting} ${save.waiting === 1 ? 'change waits' : 'changes wait'} for the connection`
          : 'no connection just now'}
      </span>
    );
  }
  if (save.problem) {
    return (
      <span className={`${base} bg-[#f8e3df] text-[#9a2b20]`}>
        {save.waiting > 0
          ? `${save.waiting} ${save.waiting === 1 ? 'change isn’t' : 'changes aren’t'} stored`
          : 'not taken'}
      </span>
    );
  }
  return (
    <span role="status" data-testid="saved" className={`${base} bg-[#e3ecdf] text-[#3d5f3e]`}>
      {save.waiting > 0 ? 'saving …' : 'saved'}
    </span>
  );
}
