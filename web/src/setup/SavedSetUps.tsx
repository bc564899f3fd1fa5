import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useState } from 'react';
import { call, post, type PageLook, type SavedSetUp, type SetUpStep } from '../api/client';
import { savedSetUpsQuery, setUpLookQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { Initials } from '../ui/Brand';
import { moment } from '../ui/time';
import { plural } from '../ui/words';

/** Set-ups that the group saved under a name: this manuscript's can be added, and one of them applied, with a look at what changes. */
export function SavedSetUps(props: {
  hasPreamble: boolean;
  isBusy: boolean;
  onApply: (saved: SavedSetUp, keys: string[]) => void;
  onLook: (page: PageLook | null) => void;
}) {
  const { hasPreamble, isBusy, onApply, onLook } = props;
  const { manuscript, canWrite } = useRoom();
  const { data: all, error } = useQuery(savedSetUpsQuery);
  const [name, setName] = useState('');
  const [chosen, setChosen] = useState<number | null>(null);
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: savedSetUpsQuery.queryKey });
  const saving = useMutation({
    mutationFn: () => post(`/api/manuscripts/${manuscript.id}/set-up/saved`, { name }),
    onSuccess: async () => {
      setName('');
      await again();
    },
  });
  const deleting = useMutation({
    mutationFn: (id: number) => call('DELETE', `/api/set-ups/${id}`),
    onSuccess: async () => {
      setChosen(null);
      await again();
    },
  });
  const problem = (saving.error ?? deleting.error ?? error)?.message;
  const saved = all?.find((s) => s.id === chosen);
  return (
    <div className="px-4 pt-3 pb-6">
      {canWrite && hasPreamble && (
        <form
          className="flex flex-wrap items-end gap-2 border-b border-rule pb-3"
          onSubmit={(e) => {
            e.preventDefault();
            saving.mutate();
          }}
        >
          <label className="flex min-w-[200px] flex-1 flex-col gap-1 text-ink-2">
            Save this manuscript’s set-up for the group, as
            <input
              className="field py-1 text-ink"
              placeholder="House style"
              maxLength={60}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </label>
          <button className="button" disabled={saving.isPending || !name.trim()}>
            Save it
          </button>
        </form>
      )}
      {problem && (
        <p role="alert" className="mt-2 text-rubric">
          {problem}
        </p>
      )}
      {all?.length === 0 && (
        <p className="mt-3 text-ink-2">
          Nothing is saved yet. A set-up under a name can be applied to any other manuscript: its settings and packages,
          not its title, its people or its text.
        </p>
      )}
      <ul aria-label="Set-ups of the group" className="mt-2">
        {all?.map((s) => (
          <li
            key={s.id}
            className={`flex items-center gap-2 rounded px-2 py-1.5 ${s.id === chosen ? 'bg-chosen' : ''}`}
          >
            {s.by && <Initials person={s.by} small />}
            <span className="min-w-0 flex-1">
              <span className="block font-medium">{s.name}</span>
              <span className="text-[12.5px] text-ink-2">
                {plural(s.settings, 'setting')}, {plural(s.packages.length, 'package')} · {moment(s.at)}
              </span>
            </span>
            <button
              className="button px-2 py-0.5"
              aria-expanded={s.id === chosen}
              aria-label={`What ${s.name} would change`}
              onClick={() => setChosen(s.id === chosen ? null : s.id)}
            >
              What it would change
            </button>
            {s.isOwn && (
              <button
                className="button px-2 py-0.5 text-rubric-ink"
                aria-label={`Delete ${s.name}`}
                onClick={() => deleting.mutate(s.id)}
              >
                Delete
              </button>
            )}
          </li>
        ))}
      </ul>
      {saved && (
        <Changes
          key={saved.id}
          saved={saved}
          isBusy={isBusy}
          onLook={onLook}
          onApply={(keys) => onApply(saved, keys)}
        />
      )}
    </div>
  );
}

/** What a saved set-up would change here, each to be had or left. */
function Changes(props: {
  saved: SavedSetUp;
  isBusy: boolean;
  onLook: (page: PageLook | null) => void;
  onApply: (keys: string[]) => void;
}) {
  const { saved, isBusy, onLook, onApply } = props;
  const { manuscript, canWrite } = useRoom();
  const { data: look, error } = useQuery(setUpLookQuery(manuscript.id, saved.id));
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const show = useEffectEvent(onLook);
  useEffect(() => {
    show(look?.page ?? null);
    return () => show(null);
  }, [look]);
  if (!look) return <p className="mt-3 text-ink-2">{error?.message ?? 'Comparing …'}</p>;
  const isWanted = (s: SetUpStep) => !s.problem && s.isOffered !== turned.has(s.key);
  const wanted = look.steps.filter(isWanted).map((s) => s.key);
  const turn = (key: string) => {
    const now = new Set(turned);
    if (!now.delete(key)) now.add(key);
    setTurned(now);
  };
  if (look.steps.length === 0) return <p className="mt-3 text-moss-ink">Everything is so here already.</p>;
  return (
    <section aria-label={`What ${saved.name} would change`} className="mt-3 border-t border-rule pt-2">
      <ul>
        {look.steps.map((s) => (
          <li key={s.key} className="border-b border-rule/60 py-1">
            <label className={`flex items-start gap-2 ${s.problem ? 'text-ink-2' : ''}`}>
              <input
                type="checkbox"
                className="mt-1 accent-moss"
                disabled={!canWrite || !!s.problem}
                checked={isWanted(s)}
                onChange={() => turn(s.key)}
              />
              <span className="min-w-0 flex-1">
                <span className="font-medium">{s.title}</span> <del className="text-ink-2">{s.from ?? ''}</del>
                {s.from && ' '}
                <span aria-hidden>→</span>
                <span className="sr-only"> becomes </span> {s.to ?? 'no longer set'}
                {s.problem && <span className="block text-[12.5px] text-ochre-ink">▲ {s.problem}</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      {canWrite && (
        <button
          className="button button-main mt-3"
          disabled={isBusy || wanted.length === 0}
          onClick={() => onApply(wanted)}
        >
          Apply {plural(wanted.length, 'change')}
        </button>
      )}
    </section>
  );
}
