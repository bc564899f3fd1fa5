import { useQuery } from '@tanstack/react-query';
import { Search } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { proofQuery, referencesQuery } from '../api/queries';
import { useRemembered, useRoom } from '../rooms/roomContext';
import { Unavailable } from '../ui/Unavailable';
import { useLeafKeys } from '../ui/useLeafKeys';
import { Waiting } from '../ui/Waiting';
import { RenameDialog } from '../write/RenameDialog';
import { useMends } from '../write/useMends';
import { LabelDetail } from './LabelDetail';
import { LabelTable } from './LabelTable';
import { groups, isFound, leaning } from './labels';
import { LeanMap } from './LeanMap';
import { Gallery, Lists } from './Printed';

const leaf = 'flex min-w-0 flex-col overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]';
const tones = {
  plain: 'bg-tint text-tint-ink',
  fix: 'bg-rubric-tint text-rubric-ink',
  check: 'bg-ochre-tint text-ochre-ink',
} as const;
const faces = [
  ['list', 'List'],
  ['gallery', 'Gallery'],
  ['printed', 'As printed'],
] as const;

/** The Cross-refs room: every label, what it names and where it is used; what is missing; which chapter leans on which. */
export default function CrossRefsRoom() {
  const { manuscript } = useRoom();
  const { id } = manuscript;
  const [search, setSearch] = useSearchParams();
  const [words, setWords] = useRemembered('labels found by', '');
  const [group, setGroup] = useRemembered('labels shown', 'labels');
  const [face, setFace] = useRemembered('labels as', 'list');
  const [renaming, setRenaming] = useState('');
  const [problem, setProblem] = useState('');
  const { data: found, error, failureReason } = useQuery(referencesQuery(id));
  const { data: proof } = useQuery(proofQuery(id));
  const key = search.get('label') ?? '';
  useLeafKeys();
  useEffect(() => {
    document.title = `Cross-refs · ${manuscript.title}`;
  }, [manuscript.title]);
  const { mendAll } = useMends({
    openAt: () => undefined,
    onMade: () => undefined,
    mendHere: () => undefined,
    foundIn: (path) => proof?.versions[path] ?? 0,
    onProblem: setProblem,
  });
  const labels = useMemo(() => found?.labels ?? [], [found]);
  const fits = (groups.find((g) => g.name === group) ?? groups[0]!).fits;
  const shown = labels.filter((l) => (fits(l) || (group === 'labels' && l.kind === 'missing')) && isFound(l, words));
  const outline = useMemo(() => proof?.report.outline ?? [], [proof]);
  const map = useMemo(() => leaning(labels, outline), [labels, outline]);
  if (!found)
    return error ? <Unavailable why={error.message} /> : <Waiting what="The labels" failure={failureReason} />;
  const label = labels.find((l) => l.key === key);
  const choose = (next: string) => setSearch({ label: next }, { replace: true });
  const mends = (proof?.report.findings ?? []).filter(
    (f) => f.repair && ['missing-label', 'unused-label'].includes(f.code) && f.message.includes(`“${key}”`),
  );
  return (
    <>
      <main className="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto p-2.5 min-[960px]:flex-row min-[960px]:overflow-hidden">
        <section aria-label="The labels" data-leaf="labels" className={`${leaf} min-h-[420px] flex-1`}>
          <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-rule px-3 py-2.5">
            <label className="relative w-[210px]">
              <span className="sr-only">Find a label</span>
              <Search size={14} className="absolute top-1/2 left-2.5 -translate-y-1/2 text-ink-3" aria-hidden />
              <input
                className="field pl-8"
                placeholder="Label, title, number"
                value={words}
                onChange={(e) => setWords(e.target.value)}
              />
            </label>
            <ToggleGroup.Root
              type="single"
              aria-label="Shown as"
              value={face}
              onValueChange={(v) => v && setFace(v)}
              className="ml-auto inline-flex overflow-hidden rounded border border-rule"
            >
              {faces.map(([name, says]) => (
                <ToggleGroup.Item
                  key={name}
                  value={name}
                  className="px-2.5 py-1 hover:bg-paper data-[state=on]:bg-top data-[state=on]:text-white"
                >
                  {says}
                </ToggleGroup.Item>
              ))}
            </ToggleGroup.Root>
            <div role="group" aria-label="Show" className="flex w-full flex-wrap gap-1.5">
              {groups.map((g) => {
                const count = labels.filter(g.fits).length;
                if (count === 0 && g.name !== 'labels') return null;
                return (
                  <button
                    key={g.name}
                    aria-pressed={group === g.name}
                    className={`chip ${tones[g.tone]} ${group === g.name ? 'ring-2 ring-ink/50' : ''}`}
                    onClick={() => setGroup(group === g.name ? 'labels' : g.name)}
                  >
                    {count} {count === 1 ? g.name.replace(/s$/, '') : g.name}
                  </button>
                );
              })}
            </div>
          </div>
          {problem && (
            <p role="alert" className="shrink-0 border-b border-rule bg-rubric-tint px-4 py-1.5 text-rubric-ink">
              {problem}
            </p>
          )}
          {face === 'printed' && proof ? (
            <Lists report={proof.report} />
          ) : face === 'gallery' ? (
            <Gallery labels={shown.filter((l) => /figure|table/.test(l.kind))} chosen={key} onChoose={choose} />
          ) : (
            <LabelTable
              labels={shown}
              chosen={key}
              onChoose={choose}
              empty={
                labels.length === 0
                  ? 'No label yet. Put \\label{sec:name} behind a heading, and \\ref{sec:name} where you refer to it.'
                  : 'No label fits. Take a word or the filter away.'
              }
            />
          )}
        </section>
        <div className="flex w-full shrink-0 flex-col gap-3 min-[960px]:w-[486px]">
          <section aria-label="The label" data-leaf="label" className={`${leaf} min-h-0 flex-1 overflow-y-auto`}>
            {label ? (
              <LabelDetail
                label={label}
                outline={outline}
                mends={mends}
                onRename={() => setRenaming(label.key)}
                onMend={(these) => {
                  setProblem('');
                  mendAll(these);
                }}
              />
            ) : (
              <p className="p-5 text-ink-2">
                Choose a label: here you see what it names, and each sentence that refers to it.
              </p>
            )}
          </section>
          <section aria-label="Who leans on whom" className={`${leaf} shrink-0`}>
            <h2 className="flex items-baseline justify-between px-4 py-2.5 font-medium">
              Who leans on whom <span className="text-[12px] font-normal text-ink-2">references between chapters</span>
            </h2>
            <LeanMap leaning={map} />
          </section>
        </div>
      </main>
      {renaming && (
        <RenameDialog of={{ kind: 'label', name: renaming }} onClose={() => setRenaming('')} onRenamed={choose} />
      )}
    </>
  );
}
