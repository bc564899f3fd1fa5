import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Download, FilePlus2, Plus, Search, Undo2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { post, type ChangedSources, type SourceRow, type SourcesState, type UndoStep } from '../api/client';
import { keys, sourceQuery, sourcesQuery } from '../api/queries';
import { useRemembered, useRoom } from '../rooms/roomContext';
import { Unavailable } from '../ui/Unavailable';
import { useLeafKeys } from '../ui/useLeafKeys';
import { Waiting } from '../ui/Waiting';
import { Entry, type Wanted } from './Entry';
import { Incoming } from './Incoming';
import { Merge } from './Merge';
import { SourceTable } from './SourceTable';

const filters = [
  { name: 'all', says: 'sources', fits: (r: SourceRow) => r.isThere, look: 'bg-tint text-tint-ink' },
  { name: 'cited', says: 'cited', fits: (r: SourceRow) => r.isThere && r.uses > 0, look: 'bg-slate-tint text-slate' },
  {
    name: 'uncited',
    says: 'never cited',
    fits: (r: SourceRow) => r.isThere && r.uses === 0,
    look: 'bg-tint text-tint-ink',
  },
  {
    name: 'incomplete',
    says: 'incomplete',
    fits: (r: SourceRow) => r.missing.length > 0,
    look: 'bg-ochre-tint text-ochre-ink',
  },
  {
    name: 'doubled',
    says: 'doubled',
    fits: (r: SourceRow) => r.twins.length > 0 || r.doubled,
    look: 'bg-plum-tint text-plum',
  },
  {
    name: 'missing',
    says: 'cited but missing',
    fits: (r: SourceRow) => !r.isThere,
    look: 'bg-rubric-tint text-rubric-ink',
  },
];

/** What was done last, with its way back. */
interface Done {
  says: string;
  undo: UndoStep[];
}

/** The Sources room: the pool as a table, one source as fields or text, and all that can be done with it. */
export default function SourcesRoom() {
  const { manuscript, canWrite } = useRoom();
  const { id } = manuscript;
  const [search, setSearch] = useSearchParams();
  const [words, setWords] = useRemembered('sources found by', '');
  const [filter, setFilter] = useRemembered('sources filtered by', 'all');
  const [done, setDone] = useState<Done | null>(null);
  const [incoming, setIncoming] = useState<'' | 'paste' | 'lookup'>('');
  const [merging, setMerging] = useState('');
  const key = search.get('key') ?? '';
  const base = `/api/manuscripts/${id}/sources`;
  const client = useQueryClient();
  const { data: sources, error: failed, failureReason } = useQuery(sourcesQuery(id));
  // While another is fetched the one before stays; one that isn't there any more goes.
  const { data: found, isError } = useQuery({ ...sourceQuery(id, key), placeholderData: keepPreviousData });
  const detail = key && !isError ? found : undefined;
  useLeafKeys();

  useEffect(() => {
    document.title = `Sources · ${manuscript.title}`;
  }, [manuscript.title]);

  const open = useCallback((k: string) => setSearch(k ? { key: k } : {}, { replace: true }), [setSearch]);
  const stale = useCallback(() => client.invalidateQueries({ queryKey: keys.sources(id) }), [client, id]);
  const undoing = useMutation({
    mutationFn: (steps: UndoStep[]) => post(`/api/manuscripts/${id}/texts/undo`, steps),
    onSuccess: stale,
    onSettled: () => setDone(null),
  });
  const changing = useMutation({
    mutationFn: ({ wanted }: { wanted: Wanted; says: string }) => {
      const empty = { key: null, other: null, text: null, file: null, fields: null };
      return post<ChangedSources>(`${base}/change`, { ...empty, ...wanted });
    },
    onMutate: () => undoing.reset(),
    onSuccess: async (answer, { says }) => {
      setDone({ says, undo: answer.undo });
      if (answer.keys[0]) open(answer.keys[0]);
      await stale();
    },
  });
  const { mutateAsync } = changing;
  const change = useCallback((wanted: Wanted, says: string) => mutateAsync({ wanted, says }), [mutateAsync]);
  // What a dialog or a field asked for says there why it wasn't done; this has no place of its own.
  const making = useMutation({
    mutationFn: (type: string) =>
      mutateAsync({
        wanted: { kind: 'add', text: `@${type}{new${type}, title = {A new ${type}}}` },
        says: 'A source was added. Fill in its fields.',
      }),
  });
  const problem = (undoing.error ?? making.error)?.message;

  const rows = useMemo(() => {
    const fits = filters.find((f) => f.name === filter)!.fits;
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    return (sources?.rows ?? []).filter((r) => {
      if (!fits(r) && !(filter === 'all' && !r.isThere)) return false;
      const text = `${r.key} ${r.authors} ${r.title} ${r.year} ${r.type}`.toLowerCase();
      return wanted.every((w) => text.includes(w));
    });
  }, [sources, filter, words]);

  if (!sources) {
    return failed ? <Unavailable why={failed.message} /> : <Waiting what="The sources" failure={failureReason} />;
  }

  return (
    <>
      <main className="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto p-2.5 min-[960px]:flex-row min-[960px]:overflow-hidden">
        <section
          aria-label="The pool"
          data-leaf="pool"
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
              {canWrite && <NewSource onMake={making.mutate} types={sources.types} />}
            </div>
          </div>
          {(problem || done) && (
            <p
              role={problem ? 'alert' : 'status'}
              className={`flex shrink-0 items-center gap-2 border-b border-rule px-3 py-1.5 ${problem ? 'bg-rubric-tint text-rubric-ink' : 'bg-moss-tint text-moss-ink'}`}
            >
              {problem || done?.says}
              {!problem && done && done.undo.length > 0 && (
                <button
                  className="ml-auto inline-flex items-center gap-1 font-medium underline"
                  onClick={() => undoing.mutate(done.undo)}
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
          data-leaf="source"
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
          manuscript={id}
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
          manuscript={id}
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
    </>
  );
}

const menu = 'z-50 rounded-md border border-rule bg-leaf p-1 shadow-lg';
const item = 'flex cursor-pointer items-baseline gap-2 rounded px-2.5 py-1.5 outline-none data-highlighted:bg-paper';

function Export({ base }: { base: string }) {
  return (
    <DropdownMenu.Root modal={false}>
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
    <DropdownMenu.Root modal={false}>
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
