import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { post, type HandInAnswer, type HandInState } from '../api/client';
import { keys } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { moment } from '../ui/time';
import { plural } from '../ui/words';
import { due, sizeOf } from './checks';
import type { Flavour, Going } from './WhatGoesOut';

/** One press hands in; below stands what was handed in before, with its files. */
export function HandInForm(props: {
  state: HandInState;
  going: Going;
  flavour: Flavour;
  anonymous: boolean;
  toMend: number;
}) {
  const { state, going, flavour, anonymous, toMend } = props;
  const { manuscript, canWrite } = useRoom();
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [to, setTo] = useState<string | null>(null);
  const [note, setNote] = useState('');
  const [said, setSaid] = useState('');
  const address = to ?? state.address;
  const handing = useMutation({
    mutationFn: (asItIs: boolean) =>
      post<HandInAnswer>(`/api/manuscripts/${manuscript.id}/hand-in`, {
        name,
        to: address,
        note,
        sources: going.sources,
        changesSince: anonymous ? null : going.since,
        asItIs,
        flavour: flavour || null,
        anonymous,
      }),
    onSuccess: async ({ id, toMend: left }) => {
      setSaid(id ? `Handed in: ${name}.` : `${plural(left, 'thing')} to mend first.`);
      if (id) {
        setName('');
        setNote('');
      }
      await client.invalidateQueries({ queryKey: keys.handIn(manuscript.id) });
    },
  });
  const isReady = name.trim().length > 0 && !handing.isPending;
  return (
    <section
      aria-label="Hand in"
      className="flex min-h-[280px] flex-1 flex-col overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]"
    >
      <h2 className="flex shrink-0 items-baseline justify-between gap-3 border-b border-rule px-4 py-2.5 font-medium">
        Hand in
        {state.deadline && (
          <span className="text-[12.5px] font-normal text-ink-2">{due(state.deadline, new Date())}</span>
        )}
      </h2>
      <div className="min-h-0 flex-1 overflow-y-auto px-4 pt-3 pb-5">
        {canWrite ? (
          <form
            className="flex flex-col gap-2.5"
            onSubmit={(e) => {
              e.preventDefault();
              handing.mutate(false);
            }}
          >
            <div className="flex flex-wrap gap-3">
              <label className="flex min-w-[180px] flex-1 flex-col gap-1 text-ink-2">
                What to call it
                <input
                  className="field text-ink"
                  placeholder="Hand-in to the office"
                  maxLength={80}
                  value={name}
                  onChange={(e) => setName(e.target.value)}
                />
              </label>
              <label className="flex min-w-[180px] flex-1 flex-col gap-1 text-ink-2">
                To, by letter
                <input
                  className="field text-ink"
                  type="email"
                  placeholder="nobody: it is only kept"
                  maxLength={200}
                  value={address}
                  onChange={(e) => setTo(e.target.value)}
                />
              </label>
            </div>
            <label className="flex flex-col gap-1 text-ink-2">
              A line to go with it
              <input
                className="field text-ink"
                maxLength={2000}
                value={note}
                onChange={(e) => setNote(e.target.value)}
              />
            </label>
            <p className="text-[12.5px] text-ink-2">
              A pin is set, the files are kept as they went out
              {address ? ', and a letter with them goes to the address' : ''}.
            </p>
            <p className="flex flex-wrap items-center gap-3">
              <button className="button button-main" disabled={!isReady || toMend > 0}>
                {handing.isPending ? 'Handing in …' : 'Hand in'}
              </button>
              {toMend > 0 && (
                <span className="text-ink-2">
                  {plural(toMend, 'thing')} to mend first, or{' '}
                  <button
                    type="button"
                    className="text-slate underline disabled:text-ink-3"
                    disabled={!isReady}
                    onClick={() => handing.mutate(true)}
                  >
                    hand in as it is
                  </button>
                </span>
              )}
              {!name.trim() && toMend === 0 && <span className="text-[12.5px] text-ink-2">It needs a name first.</span>}
            </p>
            <p role="status" className="text-moss-ink">
              {said}
            </p>
            {handing.error && (
              <p role="alert" className="text-rubric">
                {handing.error.message}
              </p>
            )}
          </form>
        ) : (
          <p className="text-ink-2">Authors hand in. Here you see what went out.</p>
        )}
        <h3 className="mt-3 text-[11.5px] tracking-[0.06em] text-ink-3 uppercase">Before</h3>
        {state.before.length === 0 && <p className="mt-1 text-ink-2">Nothing was handed in yet.</p>}
        <ul aria-label="Handed in before">
          {state.before.map((h) => (
            <li key={h.id} className="border-b border-rule/50 py-1.5">
              <p>
                <span aria-hidden>◆ </span>
                <span className="font-medium">{h.name}</span>
                <span className="text-[12.5px] text-ink-2">
                  {' '}
                  · {moment(h.at)}
                  {h.by ? `, ${h.by.name}` : ''}
                  {h.to ? `, to ${h.to}` : ', kept only'} · {plural(h.pages, 'page')}
                  {h.toMend ? ` · ${h.toMend} to mend then` : ''}
                </span>
              </p>
              <p className="ml-4 flex flex-wrap gap-x-3 text-[12.5px]">
                {h.files.map((f) => (
                  <a
                    key={f.id}
                    className="text-slate underline"
                    href={`/api/manuscripts/${manuscript.id}/handed-in/${h.id}/files/${f.id}`}
                    download={f.name}
                  >
                    {f.name} <span className="text-ink-2">({sizeOf(f.size)})</span>
                  </a>
                ))}
              </p>
              {h.note && <p className="ml-4 text-[12.5px] text-ink-2">{h.note}</p>}
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}
