import { HubConnectionBuilder, LogLevel } from '@microsoft/signalr';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useParams, useSearchParams } from 'react-router';
import {
  get,
  type Finding,
  type Manuscript,
  type OutlineLine,
  type PageSpot,
  type Part,
  type Person,
  type Place,
  type ProofState,
} from '../api/client';
import { RoomHeader } from '../parts/RoomHeader';
import { Unavailable } from '../parts/Unavailable';
import { citingCommand } from './citations';
import { FileRecord } from './FileRecord';
import { FindingsPane } from './FindingsPane';
import { ProofLeaf, type ProofHandle } from './ProofLeaf';
import { SourceLeaf, type SourceHandle } from './SourceLeaf';
import { Spine } from './Spine';
import type { SaveState } from './sync';

/** The Write room: source leaf, spine and proof leaf, in step. */
export function WriteRoom({ person }: { person: Person }) {
  const id = Number(useParams().id);
  const [search, setSearch] = useSearchParams();
  const [manuscript, setManuscript] = useState<Manuscript | null>(null);
  const [proof, setProof] = useState<ProofState | null>(null);
  const [revision, setRevision] = useState<number | null>(null);
  const [busy, setBusy] = useState(true);
  const [failed, setFailed] = useState('');
  const [connected, setConnected] = useState(true);
  const [save, setSave] = useState<SaveState>({ waiting: 0, offline: false, problem: '' });
  const [record, setRecord] = useState('');
  const [cursor, setCursor] = useState({ line: 1, column: 1 });
  const [follows, setFollows] = useState(() => localStorage.getItem('folio.follow') !== 'no');
  const source = useRef<SourceHandle>(null);
  const pages = useRef<ProofHandle>(null);
  const afterOpening = useRef<(() => void) | null>(null);

  const loadManuscript = useCallback(
    () => get<Manuscript>(`/api/manuscripts/${id}`).then(setManuscript, (e: Error) => setFailed(e.message)),
    [id],
  );
  const loadProof = useCallback(
    () =>
      get<ProofState>(`/api/manuscripts/${id}/proof`).then(
        (p) => {
          setProof(p);
          setRevision((r) => Math.max(r ?? 0, p.revision));
          setBusy(false);
        },
        () => setBusy(false),
      ),
    [id],
  );

  useEffect(() => {
    void loadManuscript();
    void loadProof();
    const hub = new HubConnectionBuilder()
      .withUrl('/hub')
      .withAutomaticReconnect([0, 500, 1000, 2000, 4000, 8000, 8000, 8000])
      .configureLogging(LogLevel.None)
      .build();
    const join = async () => {
      await hub.invoke('Join', id);
      setConnected(true);
      source.current?.catchUp();
      void loadManuscript();
      void loadProof();
    };
    hub.on('compiling', () => setBusy(true));
    hub.on('proof', (made: number) => {
      // The pages are fetched at once, beside the report.
      setRevision(made);
      void loadProof();
      source.current?.forgetSources();
    });
    hub.on('failed', () => setBusy(false));
    hub.on('parts', () => void loadManuscript());
    hub.on('updates', (part: number, version: number) => source.current?.pull(part, version));
    hub.onreconnecting(() => setConnected(false));
    hub.onreconnected(() => void join());
    hub.onclose(() => setConnected(false));
    hub
      .start()
      .then(join)
      .catch(() => setConnected(false));
    return () => void hub.stop();
  }, [id, loadManuscript, loadProof]);

  useEffect(() => {
    if (manuscript) document.title = `${manuscript.title} · Young Folio`;
  }, [manuscript]);

  // A page that closes with unsent changes asks first.
  useEffect(() => {
    const ask = (e: BeforeUnloadEvent) => {
      if (save.waiting > 0) e.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [save.waiting]);

  const part = choosePart(manuscript, search.get('part'));
  const canWrite = manuscript !== null && (manuscript.role === 'owner' || manuscript.role === 'author');

  const openAt = useCallback(
    (path: string, line: number, column = 1, then?: () => void) => {
      const go = () => {
        source.current?.goTo(line, column);
        then?.();
      };
      if (path === part?.path) {
        go();
      } else {
        afterOpening.current = go;
        setSearch({ part: path, line: String(line) });
      }
    },
    [part?.path, setSearch],
  );

  // The proof turns to the words being written.
  useEffect(() => {
    if (!follows || !part || !proof) return;
    const timer = window.setTimeout(() => {
      get<PageSpot | null>(
        `/api/manuscripts/${id}/proof/spot?part=${encodeURIComponent(part.path)}&line=${cursor.line}&column=${cursor.column}`,
      ).then(
        (spot) => spot && pages.current?.show(spot),
        () => undefined,
      );
    }, 150);
    return () => window.clearTimeout(timer);
  }, [follows, id, part, proof, cursor]);

  if (failed) return <Unavailable why={failed} />;
  if (!manuscript || !part) return null;

  const turn = (entry: OutlineLine) => {
    if (entry.part && entry.line) openAt(entry.part, entry.line);
    if (entry.sheet) pages.current?.turnTo(entry.sheet);
  };
  const point = async (sheet: number, x: number, y: number) => {
    const place = await get<Place | null>(`/api/manuscripts/${id}/proof/source?sheet=${sheet}&x=${x}&y=${y}`).catch(
      () => null,
    );
    if (place) openAt(place.part, place.line, place.column);
  };
  const go = (f: Finding) => f.part && f.line && openAt(f.part, f.line, f.column ?? 1);
  const mend = (f: Finding) => {
    const r = f.repair;
    if (r) openAt(r.part, r.line, r.column, () => source.current?.replace(r.line, r.column, r.length, r.text));
  };
  const openPart = (p: Part) => setSearch({ part: p.path });
  const section = proof?.report.outline.findLast((e) => e.part === part.path && (e.line ?? 0) <= cursor.line);
  const state = busy ? 'typesetting …' : proof ? `current · ${Math.round(proof.milliseconds)} ms` : 'no proof yet';

  return (
    <div className="flex h-full flex-col">
      <RoomHeader manuscript={manuscript} person={person} room="Write" />
      <main className="min-h-0 flex-1 p-2.5">
        <Group id="leaves" className="h-full overflow-hidden rounded-md shadow-[0_1px_6px_rgb(31_42_55/18%)]">
          <Panel id="source" defaultSize="43%" minSize="20%">
            <section aria-label="Source leaf" className="flex h-full min-h-0 flex-col bg-leaf">
              <header className="flex h-[37px] shrink-0 items-center gap-2.5 border-b border-rule px-3">
                <h2 className="max-w-[45%] truncate font-semibold">{section?.title ?? 'Beginning'}</h2>
                <span className="truncate text-[12.5px] text-ink-2">{part.path}</span>
                <SavedChip save={save} connected={connected} canWrite={canWrite} />
              </header>
              <SourceLeaf
                key={part.id}
                ref={source}
                manuscript={id}
                part={part}
                canWrite={canWrite}
                findings={proof?.report.findings ?? noFindings}
                onSave={setSave}
                onCursor={(line, column) => setCursor({ line, column })}
                onRecord={setRecord}
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
              part={part}
              line={cursor.line}
              canWrite={canWrite}
              onTurn={turn}
              onOpen={openPart}
            />
          </Panel>
          <Separator className="w-0.5 bg-[#cfc6b3] hover:bg-slate" />
          <Panel id="proof" minSize="20%">
            <ProofLeaf
              ref={pages}
              manuscript={id}
              title={manuscript.title}
              revision={revision}
              state={state}
              isBusy={busy}
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
    </div>
  );
}

const noFindings: Finding[] = [];

/** The part that the address names, or else the main part. */
function choosePart(manuscript: Manuscript | null, path: string | null): Part | null {
  const texts = manuscript?.parts.filter((p) => p.isText) ?? [];
  return texts.find((p) => p.path === path) ?? texts.find((p) => p.path === manuscript?.mainPart) ?? null;
}

function SavedChip({ save, connected, canWrite }: { save: SaveState; connected: boolean; canWrite: boolean }) {
  const base = 'chip ml-auto';
  if (!canWrite) {
    return <span className={`${base} bg-[#ebe7dd] text-ink-2`}>you may read this</span>;
  }
  if (save.offline || !connected) {
    return (
      <span role="status" className={`${base} bg-[#f7ecd2] text-[#7c5406]`}>
        {save.waiting > 0 ? `${save.waiting} changes wait for the connection` : 'no connection just now'}
      </span>
    );
  }
  if (save.problem) {
    return (
      <span role="alert" className={`${base} bg-[#f8e3df] text-[#9a2b20]`}>
        {save.problem}
      </span>
    );
  }
  return (
    <span role="status" data-testid="saved" className={`${base} bg-[#e3ecdf] text-[#3d5f3e]`}>
      {save.waiting > 0 ? 'saving …' : 'saved'}
    </span>
  );
}
