import { useQuery } from '@tanstack/react-query';
import { Minus, Plus } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { MarkupHelp, PackageLoaded, SetUpState } from '../api/client';
import { beginningQuery, guideQuery } from '../api/queries';
import { DrawnPage } from '../proof/DrawnPage';
import { examplesOf, pageOf } from './examples';

type Help = MarkupHelp['packages'][number];

interface Props {
  setUp: SetUpState;
  canWrite: boolean;
  isBusy: boolean;
  onLoad: (name: string, isLoaded: boolean) => void;
}

/** The packages: those that are loaded with the reason, and all there are in groups. */
export function Packages({ setUp, canWrite, isBusy, onLoad }: Props) {
  const { data: guide } = useQuery(guideQuery);
  const [words, setWords] = useState('');
  const byName = useMemo(() => new Map(guide?.packages.map((p) => [p.name, p])), [guide]);
  const examples = useMemo(() => (guide ? examplesOf(guide) : new Map<string, string>()), [guide]);
  const loaded = new Set(setUp.packages.map((p) => p.name));
  const groups = useMemo(() => {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    const found = new Map<string, Help[]>();
    for (const p of guide?.packages ?? []) {
      const text =
        `${p.name} ${p.purpose} ${p.commands.map((c) => `\\${c}`).join(' ')} ${p.environments.join(' ')}`.toLowerCase();
      if (wanted.every((w) => text.includes(w))) found.set(p.group, [...(found.get(p.group) ?? []), p]);
    }
    return [...found];
  }, [guide, words]);
  return (
    <div className="px-4 pb-6">
      <h2 className="pt-3 font-serif text-[17px] text-rubric-ink">Loaded here</h2>
      {setUp.packages.length === 0 && <p className="text-ink-2">None: what is below can be loaded by a click.</p>}
      <ul aria-label="Loaded packages">
        {setUp.packages.map((p) => (
          <li key={`${p.file} ${p.offset}`} className="flex items-start gap-2 border-b border-rule/60 py-1.5">
            <div className="min-w-0 flex-1">
              <span className="font-mono text-[12.5px] font-medium">{p.name}</span>
              {p.options && <span className="ml-1.5 font-mono text-[12px] text-ink-2">[{p.options}]</span>}
              <span className="ml-2 text-ink-2">{byName.get(p.name)?.purpose}</span>
              <p className="text-[12px]">
                <Reason loaded={p} help={byName.get(p.name)} others={loaded} />
              </p>
            </div>
            {canWrite && p.canUnload && (
              <button
                className="button px-2 py-0 text-[12px]"
                disabled={isBusy}
                aria-label={`Take ${p.name} out`}
                onClick={() => onLoad(p.name, false)}
              >
                <Minus className="size-3" aria-hidden /> Out
              </button>
            )}
          </li>
        ))}
      </ul>
      <div className="mt-5 flex items-baseline justify-between gap-3">
        <h2 className="font-serif text-[17px] text-rubric-ink">All there are</h2>
        <input
          aria-label="Find a package"
          placeholder="What it does, or a command"
          className="field max-w-[230px] py-1"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </div>
      {groups.map(([group, packages]) => (
        <div key={group} role="group" aria-label={group}>
          <h3 className="mt-3 text-[11px] tracking-wide text-ink-2 uppercase">{group}</h3>
          <ul>
            {packages.map((p) => {
              const clash = p.clashes.find((c) => loaded.has(c));
              return (
                <li key={p.name} className="flex items-start gap-2 border-b border-rule/60 py-1.5">
                  <div className="min-w-0 flex-1">
                    <span className="font-mono text-[12.5px] font-medium">{p.name}</span>
                    <span className="ml-2">{p.purpose}</span>
                    {p.commands.length + p.environments.length > 0 && (
                      <p className="truncate font-mono text-[11.5px] text-ink-2">
                        {[...p.environments, ...p.commands.map((c) => `\\${c}`)].slice(0, 8).join('  ')}
                      </p>
                    )}
                    {p.options.length > 0 && (
                      <p className="truncate text-[12px] text-ink-2">
                        Options: <span className="font-mono text-[11.5px]">{p.options.join(', ')}</span>
                      </p>
                    )}
                    {examples.has(p.name) && <Example of={p.name} markup={examples.get(p.name)!} />}
                    {clash && !loaded.has(p.name) && (
                      <p className="text-[12px] text-ochre-ink">
                        Defines the same commands as {clash}, which is loaded.
                      </p>
                    )}
                  </div>
                  {loaded.has(p.name) ? (
                    <span className="chip bg-moss-tint text-moss-ink">loaded</span>
                  ) : (
                    canWrite &&
                    setUp.hasPreamble && (
                      <button
                        className="button px-2 py-0 text-[12px]"
                        disabled={isBusy}
                        aria-label={`Load ${p.name}`}
                        onClick={() => onLoad(p.name, true)}
                      >
                        <Plus className="size-3" aria-hidden /> Load
                      </button>
                    )
                  )}
                </li>
              );
            })}
          </ul>
        </div>
      ))}
      {guide && groups.length === 0 && <p className="mt-3 text-ink-2">Nothing fits. Say it in other words.</p>}
    </div>
  );
}

/** Why a package is there, or why it need not be. */
function Reason({ loaded, help, others }: { loaded: PackageLoaded; help: Help | undefined; others: Set<string> }) {
  const clash = help?.clashes.find((c) => others.has(c));
  const warn = (words: string) => <span className="text-ochre-ink">▲ {words}</span>;
  if (!loaded.isKnown)
    return <span className="text-rubric-ink">● Not available here: what it defines is printed as it is typed.</span>;
  if (clash) return warn(`Defines the same commands as ${clash}.`);
  if (loaded.doesNothing) return <span className="text-ink-2">Does nothing here: what it gives is always there.</span>;
  if (loaded.isUnused) return warn('Nothing that it gives is used.');
  if (loaded.usedBy.length > 0)
    return (
      <span className="text-ink-2">
        for <span className="font-mono text-[11.5px]">{loaded.usedBy.slice(0, 6).join('  ')}</span>
        {loaded.usedBy.length > 6 && ` and ${loaded.usedBy.length - 6} more`}
      </span>
    );
  return <span className="text-ink-2">works by being loaded</span>;
}

/** What a package gives, printed by the engine when it is wanted. */
function Example({ of, markup }: { of: string; markup: string }) {
  const [isOpen, setIsOpen] = useState(false);
  const { data, error } = useQuery(
    beginningQuery(isOpen ? JSON.stringify({ title: of, text: pageOf(of, markup) }) : ''),
  );
  return (
    <details className="text-[12px]" onToggle={(e) => setIsOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-slate">Example</summary>
      <pre className="mt-1 overflow-x-auto rounded bg-paper px-2 py-1 font-mono text-[11.5px] whitespace-pre-wrap">
        {markup}
      </pre>
      {data && (
        <div className="mt-1.5">
          <DrawnPage page={data.page} width={300} label={`The example of ${of}, as it prints`} />
        </div>
      )}
      {error && <p className="text-rubric">{error.message}</p>}
    </details>
  );
}
