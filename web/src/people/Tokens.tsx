import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call, post, type IssuedToken, type Token } from '../api/client';
import { keys, tokensQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { moment } from '../ui/time';

/** Access tokens: with one a script puts data and pictures into this manuscript. */
export function Tokens() {
  const { manuscript } = useRoom();
  const base = `/api/manuscripts/${manuscript.id}/tokens`;
  const client = useQueryClient();
  const { data: tokens = [], error } = useQuery(tokensQuery(manuscript.id));
  const [name, setName] = useState('');
  const stale = () => client.invalidateQueries({ queryKey: keys.tokens(manuscript.id) });
  const making = useMutation({
    mutationFn: () => post<IssuedToken>(base, { name }),
    onSuccess: () => {
      setName('');
      return stale();
    },
  });
  const revoking = useMutation({ mutationFn: (id: number) => call('DELETE', `${base}/${id}`), onSuccess: stale });
  const issued = making.data;
  const problem = (making.error ?? revoking.error ?? error)?.message;
  const make = (event: FormEvent) => {
    event.preventDefault();
    making.mutate();
  };
  const owner = (t: Token) => manuscript.people.find((p) => p.id === t.person)?.name ?? 'someone who left';
  return (
    <>
      <p className="text-ink-2">
        A script with a token can put data and pictures into this manuscript, read those back and see whether the proof
        shows them, and nothing else. The proof follows, and the history says which script it was.
      </p>
      <form onSubmit={make} className="mt-3 flex flex-wrap items-end gap-2.5">
        <label className="flex flex-1 flex-col gap-1 text-[12.5px] text-ink-2">
          What it is for
          <input
            className="field text-ink"
            placeholder="nightly analysis"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        <button className="button py-1.5" disabled={!name.trim()}>
          Make a token
        </button>
      </form>
      {problem && (
        <p role="alert" className="mt-2 text-rubric">
          {problem}
        </p>
      )}
      {issued && (
        <div role="status" className="mt-3 rounded border border-rule bg-paper p-3">
          <p>
            The token for <b className="font-medium">{issued.token.name}</b>. It is shown this once: keep it where your
            script finds it.
          </p>
          <code className="mt-1.5 block rounded bg-page p-2 font-mono text-[12.5px] break-all select-all">
            {issued.secret}
          </code>
        </div>
      )}
      <ul aria-label="Tokens" className="mt-3 divide-y divide-rule">
        {tokens.map((t) => (
          <li key={t.id} className="flex items-center gap-3 py-2">
            <span className="min-w-0 flex-1">
              <span className="font-medium">{t.name}</span>
              <span className="block text-[12.5px] text-ink-2">
                {owner(t)}, made {moment(t.at)} · {t.usedAt ? `last used ${moment(t.usedAt)}` : 'not used yet'}
              </span>
            </span>
            <button className="button px-2 py-0.5" onClick={() => revoking.mutate(t.id)}>
              Revoke
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
