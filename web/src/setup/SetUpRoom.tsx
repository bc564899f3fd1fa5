import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Undo2 } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { post, type ChangedSetUp, type PageLook, type Setting, type SetUpState, type UndoStep } from '../api/client';
import { keys, proofQuery, setUpQuery } from '../api/queries';
import { SheetStore } from '../proof/sheetStore';
import { SmallPage } from '../proof/Thumbnails';
import { useRemembered, useRoom } from '../rooms/roomContext';
import { Unavailable } from '../ui/Unavailable';
import { useLeafKeys } from '../ui/useLeafKeys';
import { Waiting } from '../ui/Waiting';
import { plural } from '../ui/words';
import { Control } from './Control';
import { FamilySamples } from './FamilySamples';
import { Packages } from './Packages';
import { SavedSetUps } from './SavedSetUps';
import { PreambleLeaf } from './PreambleLeaf';
import { isShown, lengthNow, lineAt, namesStyle } from './settings';
import { Spread } from './Spread';
import { StyleSamples } from './StyleSamples';

const leaf = 'flex min-w-0 flex-col overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]';
const tab = 'rounded px-2 py-0.5 text-ink-2 data-[state=active]:font-semibold data-[state=active]:text-ink';

/** The Set-up room: what the preamble sets, the lines that it stands in, and the page that comes of it. */
export default function SetUpRoom() {
  const { manuscript, canWrite, memory } = useRoom();
  const { id } = manuscript;
  const { data: setUp, error, failureReason } = useQuery(setUpQuery(id));
  const { data: proof } = useQuery(proofQuery(id));
  const [face, setFace] = useRemembered('set-up face', 'settings');
  const [lit, setLit] = useState<string | null>(null);
  const [done, setDone] = useState<{ says: string; undo: UndoStep[] } | null>(null);
  // The page as a set-up of the group would make it.
  const [look, setLook] = useState<PageLook | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const client = useQueryClient();
  const navigate = useNavigate();
  useLeafKeys();
  useEffect(() => {
    document.title = `Set-up · ${manuscript.title}`;
  }, [manuscript.title]);
  const settings = useMemo(() => new Map(setUp?.settings.map((s) => [s.id, s])), [setUp]);

  const take = (now: SetUpState) => client.setQueryData(setUpQuery(id).queryKey, now);
  const changing = useMutation({
    mutationFn: ({ path, body }: { path: string; body: object; says: string }) =>
      post<ChangedSetUp>(`/api/manuscripts/${id}/set-up${path}`, body),
    onMutate: () => undoing.reset(),
    onSuccess: (answer, { says }) => {
      take(answer.setUp);
      setDone(answer.undo.length > 0 ? { says, undo: answer.undo } : null);
    },
  });
  const undoing = useMutation({
    mutationFn: (steps: UndoStep[]) => post(`/api/manuscripts/${id}/texts/undo`, steps),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.setUp(id) }),
    onSettled: () => setDone(null),
  });
  if (!setUp)
    return error ? <Unavailable why={error.message} /> : <Waiting what="The set-up" failure={failureReason} />;

  const set = (setting: Setting, value: string | null) =>
    changing.mutate({
      path: '',
      body: { id: setting.id, value },
      says: `${setting.title}: ${value === null ? 'no longer set' : (setting.choices.find((c) => c.value === value)?.words ?? (value || 'empty'))}.`,
    });
  const load = (name: string, isLoaded: boolean) =>
    changing.mutate({
      path: '/packages',
      body: { name, isLoaded },
      says: isLoaded ? `${name} is loaded.` : `${name} is no longer loaded.`,
    });
  const goTo = (name: string) => {
    setFace('settings');
    setLit(name);
    window.requestAnimationFrame(() => {
      const control = list.current?.querySelector<HTMLElement>(`[data-setting="${name}"]`);
      control?.scrollIntoView({ block: 'center' });
      control?.querySelector<HTMLElement>('input, select, textarea, button')?.focus();
    });
  };
  const goToSource = ({ places }: Setting) => {
    const place = places.at(-1);
    const text = setUp.files.find((f) => f.path === place?.file)?.text;
    if (place && text !== undefined)
      void navigate(`/m/${id}/write?file=${encodeURIComponent(place.file)}&line=${lineAt(text, place.from)}`);
  };
  const shown = setUp.settings.filter((s) => isShown(s, settings));
  const groups = [...new Set(shown.map((s) => s.group))];
  const problem = (changing.error ?? undoing.error)?.message;
  const sheets = memory.make('sheets', () => new SheetStore(id));

  return (
    <main className="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto p-2.5 min-[960px]:flex-row min-[960px]:overflow-hidden">
      <Tabs.Root value={face} onValueChange={setFace} asChild>
        <section aria-label="Settings" data-leaf="settings" className={`${leaf} min-h-[420px] flex-[1.35]`}>
          <div className="flex shrink-0 items-center gap-1 border-b border-rule px-3 py-2">
            <Tabs.List aria-label="Set-up" className="flex gap-1">
              <Tabs.Trigger value="settings" className={tab}>
                Settings
              </Tabs.Trigger>
              <Tabs.Trigger value="packages" className={tab}>
                Packages <span className="font-normal text-ink-2">{setUp.packages.length}</span>
              </Tabs.Trigger>
              <Tabs.Trigger value="group" className={tab}>
                Of the group
              </Tabs.Trigger>
            </Tabs.List>
            {changing.isPending && <span className="ml-auto text-[12px] text-ink-2">writing …</span>}
          </div>
          {(problem || done) && (
            <p
              role={problem ? 'alert' : 'status'}
              className={`flex shrink-0 items-center gap-2 border-b border-rule px-4 py-1.5 ${problem ? 'bg-rubric-tint text-rubric-ink' : 'bg-moss-tint text-moss-ink'}`}
            >
              <span className="min-w-0 truncate">{problem ?? done?.says}</span>
              {!problem && done && (
                <button
                  className="ml-auto inline-flex items-center gap-1 font-medium underline"
                  onClick={() => undoing.mutate(done.undo)}
                >
                  <Undo2 size={13} aria-hidden /> Undo
                </button>
              )}
            </p>
          )}
          <Tabs.Content value="settings" ref={list} className="min-h-0 flex-1 overflow-y-auto px-3 pb-6" tabIndex={-1}>
            {!setUp.hasPreamble && (
              <p className="m-2 rounded bg-note px-3 py-2">
                This manuscript has no preamble yet. A main file begins with {'\\documentclass{article}'}, and its text
                stands between {'\\begin{document}'} and {'\\end{document}'}.
              </p>
            )}
            {setUp.remarks.length > 0 && (
              <ul aria-label="What fights" className="mt-2 space-y-1">
                {setUp.remarks.map((r) => (
                  <li
                    key={r.code + r.message}
                    className="flex items-start gap-2 rounded bg-ochre-tint px-3 py-1.5 text-ochre-ink"
                  >
                    <span aria-hidden>▲</span>
                    <span className="min-w-0 flex-1">
                      <b className="font-medium">{r.message}</b> {r.advice}
                    </span>
                    {canWrite && r.unload && (
                      <button className="button shrink-0 px-2 py-0 text-ink" onClick={() => load(r.unload!, false)}>
                        Take {r.unload} out
                      </button>
                    )}
                    {canWrite && r.unset && (
                      <button
                        className="button shrink-0 px-2 py-0 text-ink"
                        onClick={() => set(settings.get(r.unset!)!, null)}
                      >
                        Take it away
                      </button>
                    )}
                    {!r.unload && !r.unset && r.settings[0] && (
                      <button className="shrink-0 underline" onClick={() => goTo(r.settings[0]!)}>
                        Show
                      </button>
                    )}
                  </li>
                ))}
              </ul>
            )}
            {groups.map((group) => (
              <fieldset key={group} className="mt-3 grid grid-cols-2 border-b border-rule/70 pb-2">
                <legend className="px-2 font-serif text-[17px] text-rubric-ink">{group}</legend>
                {shown
                  .filter((s) => s.group === group)
                  .map((s) => (
                    <Control
                      key={s.id}
                      setting={s}
                      canWrite={canWrite}
                      isBusy={changing.isPending}
                      isLit={lit === s.id}
                      now={lengthNow(s.id, setUp.page)}
                      onSet={(value) => set(s, value)}
                      onLight={setLit}
                      onGo={() => goToSource(s)}
                    >
                      {s.id === 'family' && (
                        <FamilySamples
                          setting={s}
                          canChoose={canWrite && s.canChange}
                          onChoose={(family) => set(s, family)}
                        />
                      )}
                      {namesStyle(s) && (
                        <StyleSamples
                          chosen={s.value}
                          canChoose={canWrite && s.canChange}
                          onChoose={(style) => set(s, style)}
                        />
                      )}
                    </Control>
                  ))}
              </fieldset>
            ))}
          </Tabs.Content>
          <Tabs.Content value="packages" className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
            <Packages setUp={setUp} canWrite={canWrite} isBusy={changing.isPending} onLoad={load} />
          </Tabs.Content>
          <Tabs.Content value="group" className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
            <SavedSetUps
              hasPreamble={setUp.hasPreamble}
              isBusy={changing.isPending}
              onApply={(saved, keys) =>
                changing.mutate({
                  path: `/saved/${saved.id}`,
                  body: { keys },
                  says: `“${saved.name}” is applied: ${plural(keys.length, 'change')}.`,
                })
              }
              onLook={setLook}
            />
          </Tabs.Content>
        </section>
      </Tabs.Root>
      <section aria-label="The preamble this writes" data-leaf="preamble" className={`${leaf} min-h-[300px] flex-1`}>
        <h2 className="shrink-0 border-b border-rule px-4 py-2 font-medium">The preamble this writes</h2>
        <PreambleLeaf setUp={setUp} settings={settings} lit={lit} onLight={setLit} onGoTo={goTo} />
      </section>
      <section
        aria-label="The page"
        data-leaf="page"
        className="flex min-h-[300px] min-w-0 flex-1 flex-col overflow-y-auto rounded-md bg-proof pb-4 shadow-[0_1px_6px_rgb(31_42_55/18%)]"
      >
        {look && face === 'group' && <p className="px-4 pt-3 text-tint-ink">As it would be:</p>}
        {setUp.page && <Spread page={(face === 'group' && look) || setUp.page} pages={proof?.report.pages} />}
        {proof && proof.sheets.entries.length > 0 && (
          <section aria-label="First pages" className="px-4 pt-4">
            <h3 className="font-medium">
              First pages{proof.isBehind && <span className="font-normal text-tint-ink"> · coming anew …</span>}
            </h3>
            <div className="mt-2 flex flex-wrap gap-3">
              {proof.sheets.entries.slice(0, 4).map((entry, i) => (
                <SmallPage key={i} entry={entry} sheets={sheets} isCurrent={false} wide={150} />
              ))}
            </div>
          </section>
        )}
      </section>
    </main>
  );
}
