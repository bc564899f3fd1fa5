import { Download, FilePlus2, Plus, Search, Undo2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import {
  get,
  post,
  type ChangedSources,
  type Manuscript,
  type Person,
  type SourceChange,
  type SourceDetail,
  type SourceRow,
  type SourcesState,
  type UndoStep,
} from '../api/client';
import { useLive } from '../live/useLive';
import { RoomHeader } from '../ui/RoomHeader';
import { Unavailable } from '../ui/Unavailable';
import { Entry } from './Entry';
import { Incoming } from './Incoming';
import { Merge } from './Merge';
import { SourceTable } from './SourceTable';

const filters = [
  { name: 'all', says: 'sources', fits: (r: SourceRow) => r.isThere, look: 'bg-[#ebe7dd] text-[#4a443a]' },
  { name: 'cited', says: 'cited', fits: (r: SourceRow) => r.isThere && r.uses > 0, look: 'bg-[#e1e9f1] text-slate' },
  {
    name: 'uncited',
    says: 'never cited',
    fits: (r: SourceRow) => r.isThere && r.uses === 0,
    look: 'bg-[#ebe7dd] text-[#4a443a]',
  },
  {
    name: 'incomplete',
    says: 'incomplete',
    fits: (r: SourceRow) => r.missing.length > 0,
    look: 'bg-[#f7ecd2] text-[#7c5406]',
  },
  {
    name: 'doubled',
    says: 'doubled',
    fits: (r: SourceRow) => r.twins.length > 0 || r.doubled,
    look: 'bg-[#ece3f0] text-plum',
  },
  {
    name: 'missing',
    says: 'cited but missing',
    fits: (r: SourceRow) => !r.isThere,
    look: 'bg-[#f8e3df] text-[#9a2b20]',
  },
];

/** What was done last, with its way back. */
interface Done {
  says: string;
  undo: UndoStep[];
}

/** The Sources room: the pool as a table, one source as fields or text, and all that can be done with it. */
export function SourcesRoom({ person }: { person: Person }) {
  const id = Number(useParams().id);
  const { live, present } = useLive(id, person.id);
  const [search, setSearch] = useSearchParams();
  const [manuscript, setManuscript] = useState<Manuscript | null>(null);
  const [sources, setSources] = useState<SourcesState | null>(null);
  const [detail, setDetail] = useState<SourceDetail | null>(null);
  const [words, setWords] = useState('');
  const [filter, setFilter] = useState('all');
  const [failed, setFailed] = useState('');
  const [problem, setProblem] = useState('');
  const [done, setDone] = useState<Done | null>(null);
  const [incoming, setIncoming] = useState<'' | 'paste' | 'lookup'>('');
  const [merging, setMerging] = useState('');
  const key = search.get('key') ?? '';
  const shown = useRef('');
  const base = `/api/manuscripts/${id}/sources`;

  const load = useCallback(() => get<SourcesState>(base).then(setSources, (e: Error) => setFailed(e.message)), [base]);
  const loadDetail = useCallback(() => {
    if (!key) return setDetail(null);
    shown.current = key;
    get<SourceDetail>(`${base}/entry?key=${encodeURIComponent(key)}`).then(
      (d) => shown.current === key && setDetail(d),
      () => shown.current === key && setDetail(null),
    );
  }, [base, key]);

  useEffect(
    () => void get<Manuscript>(`/api/manuscripts/${id}`).then(setManuscript, (e: Error) => setFailed(e.message)),
    [id],
  );
  useEffect(loadDetail, [loadDetail]);
  useEffect(() => {
    void load();
    if (!live) return;
    // What others write changes the pool and what is cited.
    const refresh = () => {
      void load();
      window.dispatchEvent(new Event('sources'));
    };
    const off = (['proof', 'updates', 'files', 'joined'] as const).map((event) => live.on(event, refresh));
    return () => off.forEach((f) => f());
  }, [live, load]);
  useEffect(() => {
    window.addEventListener('sources', loadDetail);
    return () => window.removeEventListener('sources', loadDetail);
  }, [loadDetail]);
  useEffect(() => {
    if (manuscript) document.title = `Sources · ${manuscript.title}`;
  }, [manuscript]);

  const open = useCallback((k: string) => setSearch(k ? { key: k } : {}, { replace: true }), [setSearch]);
  const change = useCallback(
    async (wanted: Partial<SourceChange> & { kind: string }, says: string) => {
      setProblem('');
      const empty = { key: null, other: null, text: null, file: null, fields: null };
      const answer = await post<ChangedSources>(`${base}/change`, { ...empty, ...wanted });
      setDone({ says, undo: answer.undo });
      await load();
      if (answer.keys[0]) open(answer.keys[0]);
      window.dispatchEvent(new Event('sources'));
      return answer;
    },
    [base, load, open],
  );
  const undo = async () => {
    if (!done) return;
    try {
      await post(`${base}/undo`, done.undo);
      setDone(null);
      await load();
      window.dispatchEvent(new Event('sources'));
    } catch (e) {
      setProblem((e as Error).message);
      setDone(null);
    }
  };

  const rows = useMemo(() => {
    const fits = filters.find((f) => f.name === filter)!.fits;
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    return (sources?.rows ?? []).filter((r) => {
      if (!fits(r) && !(filter === 'all' && !r.isThere)) return false;
      const text = `${r.key} ${r.authors} ${r.title} ${r.year} ${r.type}`.toLowerCase();
      return wanted.every((w) => text.includes(w));
    });
  }, [sources, filter, words]);

  if (failed) return <Unavailable why={failed} />;
  if (!manuscript || !sources) return null;
  const canWrite = manuscript.role === 'owner' || manuscript.role === 'author';

  return (
    <div className="flex h-full flex-col">
      <RoomHeader manuscript={manuscript} person={person} room="Sources" present={present} />
      <main className="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto p-2.5 min-[960px]:flex-row min-[960px]:overflow-hidden">
        <section
          aria-label="The pool"
          className="flex min-h-[420px] min-w-0 flex-1 flex-col overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]"
        >
          <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-rule px-3 py-2.5">
            <label className="relative w-[210px]">
              <span className="sr-only">Find a source</span>
              <Search size={14} className="absolute top-1/2 left-2.5 -translate-y-1/2 text-ink-3" aria-hidden />
              <input
                className="field pl-8"
                placeholder="Author, title, year, key"
                value={words}
                onChange={(e) => setWords(e.target.value)}
              />
            </label>
            {canWrite && (
              <div className="ml-auto flex gap-2">
                <button className="button" onClick={() => setIncoming('paste')}>
                  <FilePlus2 size={14} aria-hidden /> Paste or import
                </button>
                <button className="button button-main" onClick={() => setIncoming('lookup')}>
                  Look up
                </button>
                <Export base={base} />
              </div>
            )}
            {!canWrite && (
              <div className="ml-auto">
                <Export base={base} />
              </div>
            )}
            <div role="group" aria-label="Show" className="flex w-full flex-wrap gap-1.5">
              {filters.map((f) => {
                const count = sources.rows.filter(f.fits).length;
                return (
                  <button
                    key={f.name}
                    aria-pressed={filter === f.name}
                    onClick={() => setFilter(filter === f.name ? 'all' : f.name)}
                    className={`chip ${f.look} ${filter === f.name ? 'ring-2 ring-ink/50' : ''}`}
                  >
                    {count} {count === 1 && f.name === 'all' ? 'source' : f.says}
                  </button>
                );
              })}
              {canWrite && (
                <NewSource
                  onMake={(type) =>
                    change(
                      { kind: 'add', text: `@${type}{new${type}, title = {A new ${type}}}` },
                      'A source was added. Fill in its fields.',
                    ).catch((e: Error) => setProblem(e.message))
                  }
                  types={sources.types}
                />
              )}
            </div>
          </div>
          {(problem || done) && (
            <p
              role={problem ? 'alert' : 'status'}
              className={`flex shrink-0 items-center gap-2 border-b border-rule px-3 py-1.5 ${problem ? 'bg-[#f8e3df] text-[#9a2b20]' : 'bg-[#eef3ec] text-[#3d5f3e]'}`}
            >
              {problem || done?.says}
              {!problem && done && done.undo.length > 0 && (
                <button
                  className="ml-auto inline-flex items-center gap-1 font-medium underline"
                  onClick={() => void undo()}
                >
                  <Undo2 size={13} aria-hidden /> Undo
                </button>
              )}
            </p>
          )}
          <SourceTable
            rows={rows}
            chosen={key}
            onChoose={open}
            empty={
              sources.rows.length === 0
                ? 'No sources yet. Paste a record from a search service, or look one up.'
                : 'No source fits. Take a word or the filter away.'
            }
          />
        </section>
        <aside
          aria-label="The source"
          className="flex w-full shrink-0 flex-col min-[960px]:w-[442px] overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]"
        >
          {detail ? (
            <Entry
              key={detail.row.key}
              manuscript={id}
              detail={detail}
              types={sources.types}
              canWrite={canWrite}
              onChange={change}
              onMerge={setMerging}
              onLookUp={() => setIncoming('lookup')}
            />
          ) : (
            <p className="p-5 text-ink-2">
              Choose a source: here you see its fields, how it prints, and where it is cited.
            </p>
          )}
        </aside>
      </main>
      {incoming && (
        <Incoming
          base={base}
          files={sources.files}
          kind={incoming}
          onAdd={(text, file, count) =>
            change(
              { kind: 'add', text, file },
              count === 1 ? 'One source was added.' : `${count} sources were added.`,
            ).then(() => setFilter('all'))
          }
          onClose={() => setIncoming('')}
        />
      )}
      {merging && detail && (
        <Merge
          base={base}
          kept={detail}
          other={merging}
          onMerge={(kept, dropped, fields) =>
            change(
              { kind: 'merge', key: kept, other: dropped, fields },
              `${dropped} was merged into ${kept}; what cited it cites ${kept}.`,
            )
          }
          onClose={() => setMerging('')}
        />
      )}
    </div>
  );
}

const menu = 'z-50 rounded-md border border-rule bg-leaf p-1 shadow-lg';
const item = 'flex cursor-pointer items-baseline gap-2 rounded px-2.5 py-1.5 outline-none data-highlighted:bg-paper';

function Export({ base }: { base: string }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="button">
        <Download size={14} aria-hidden /> Export
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={menu} align="end" sideOffset={4}>
          {[
            ['bibtex', 'BibTeX'],
            ['ris', 'RIS'],
            ['csl', 'CSL-JSON'],
          ].map(([format, name]) => (
            <DropdownMenu.Item key={format} asChild className={item}>
              <a href={`${base}/export?format=${format}`}>{name}</a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function NewSource({ types, onMake }: { types: SourcesState['types']; onMake: (type: string) => void }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="chip ml-auto border border-rule hover:bg-paper">
        <Plus size={12} aria-hidden /> From scratch
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={`${menu} max-h-80 overflow-y-auto`} align="end" sideOffset={4}>
          {types.map((t) => (
            <DropdownMenu.Item key={t.name} className={item} onSelect={() => onMake(t.name)}>
              <span className="font-mono text-[12px]">{t.name}</span>
              <span className="text-[12px] text-ink-2">{t.says}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
