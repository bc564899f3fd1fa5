import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, type CheckPlace } from '../api/client';
import { chronicleQuery, handInQuery, keys, proofQuery, rulesQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { Unavailable } from '../ui/Unavailable';
import { useLeafKeys } from '../ui/useLeafKeys';
import { Waiting } from '../ui/Waiting';
import { useMends } from '../write/useMends';
import { CheckList } from './CheckList';
import { countOf, summary } from './checks';
import { HandInForm } from './HandInForm';
import { RulesDialog } from './RulesDialog';
import { usualSources, WhatGoesOut, type Flavour, type Going } from './WhatGoesOut';

/** The Hand-in room: what was looked at, by whose rules, what goes out, and what went out before. */
export default function HandInRoom() {
  const { manuscript, canWrite } = useRoom();
  const { id } = manuscript;
  const client = useQueryClient();
  const [going, setGoing] = useState<Going>({ flavour: null, anonymous: null, sources: usualSources, since: null });
  const [isEditing, setEditing] = useState(false);
  const [problem, setProblem] = useState('');
  const { data: state, error, failureReason } = useQuery(handInQuery(id));
  const { data: rules } = useQuery(rulesQuery);
  const { data: proof } = useQuery(proofQuery(id));
  const { data: chronicle } = useInfiniteQuery(chronicleQuery(id, {}));
  useLeafKeys();
  useEffect(() => {
    document.title = `Hand-in · ${manuscript.title}`;
  }, [manuscript.title]);
  const choosing = useMutation({
    mutationFn: (key: string) => call('PUT', `/api/manuscripts/${id}/hand-in/rules`, { key }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.handIn(id) }),
    onError: (e: Error) => setProblem(e.message),
  });
  const { mendAll } = useMends({
    openAt: () => undefined,
    onMade: () => undefined,
    mendHere: () => undefined,
    foundIn: (path) => proof?.versions[path] ?? 0,
    onProblem: setProblem,
  });
  if (!state)
    return error ? <Unavailable why={error.message} /> : <Waiting what="The checks" failure={failureReason} />;
  const chosen = rules?.find((r) => r.key === state.key);
  const flavour = going.flavour ?? ((state.flavour ?? '') as Flavour);
  const anonymous = going.anonymous ?? state.isAnonymous;
  // Another's rules may be chosen before this list has them.
  const listed = chosen ? rules! : [...(rules ?? []), { key: state.key, name: state.rules }];
  const mend = (places: CheckPlace[]) => {
    const wanted = new Set(places.map((p) => `${p.file} ${p.offset}`));
    mendAll((proof?.report.findings ?? []).filter((f) => f.repair && wanted.has(`${f.file} ${f.offset}`)));
  };
  return (
    <>
      <main className="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto p-2.5 min-[960px]:flex-row min-[960px]:overflow-hidden">
        <section
          aria-label="The checks"
          data-leaf="checks"
          className="flex min-h-[420px] min-w-0 flex-1 flex-col overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]"
        >
          <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-rule px-4 py-2">
            <label className="flex min-w-0 items-center gap-2 font-medium">
              Rules of
              <select
                className="field w-auto max-w-[280px] min-w-0 py-1 font-normal"
                value={state.key}
                disabled={!canWrite || choosing.isPending}
                onChange={(e) => choosing.mutate(e.target.value)}
              >
                {listed.map((r) => (
                  <option key={r.key} value={r.key}>
                    {r.name}
                  </option>
                ))}
              </select>
            </label>
            {canWrite && chosen && (
              <button className="button px-2.5 py-1" onClick={() => setEditing(true)}>
                {chosen.isOwn ? 'Change' : 'Make your own'}
              </button>
            )}
            <p role="status" className="ml-auto text-[12.5px] text-ink-2">
              {summary(state.groups)}
            </p>
          </div>
          {problem && (
            <p role="alert" className="shrink-0 border-b border-rule bg-rubric-tint px-4 py-1.5 text-rubric-ink">
              {problem}
            </p>
          )}
          <CheckList
            groups={state.groups}
            onMend={(places) => {
              setProblem('');
              mend(places);
            }}
          />
        </section>
        <div className="flex w-full shrink-0 flex-col gap-3 min-[960px]:w-[560px]">
          <WhatGoesOut
            revision={state.revision}
            name={anonymous ? state.anonymousName : state.fileName}
            anonymous={anonymous}
            pins={chronicle?.pages[0]?.pins ?? []}
            flavour={flavour}
            going={going}
            onGoing={setGoing}
          />
          <HandInForm
            state={state}
            going={going}
            flavour={flavour}
            anonymous={anonymous}
            toMend={countOf(state.groups, 'mend')}
          />
        </div>
      </main>
      {isEditing && chosen && (
        <RulesDialog from={chosen} onSaved={(key) => choosing.mutate(key)} onClose={() => setEditing(false)} />
      )}
    </>
  );
}
