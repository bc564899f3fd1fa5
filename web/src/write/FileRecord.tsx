import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { post, type ChangedSources } from '../api/client';
import { lookQuery } from '../api/queries';
import { Panel } from '../ui/Panel';

interface Props {
  manuscript: number;
  text: string;
  command: string;
  onCite: (markup: string) => void;
  onPlain: () => void;
  onClose: () => void;
}

/** Someone pasted a record into the text: it can go to the sources and be cited here at once. */
export function FileRecord({ manuscript, text, command, onCite, onPlain, onClose }: Props) {
  const base = `/api/manuscripts/${manuscript}/sources`;
  const { data: offer, error } = useQuery(lookQuery(manuscript, text));
  const file = useMutation({
    mutationFn: async () => {
      if (!offer) return;
      // What is in the pool already is cited as it is.
      const fresh = offer.records.filter((r) => !r.twin);
      const keys = offer.records.flatMap((r) => (r.twin ? [r.twin] : []));
      if (fresh.length > 0) {
        const records = fresh.map((r) => r.text).join('\n');
        const empty = { key: null, other: null, file: null, fields: null };
        const answer = await post<ChangedSources>(`${base}/change`, {
          ...empty,
          kind: 'add',
          text: records,
          isCited: true,
        });
        keys.push(...answer.keys);
      }
      onCite(`${command}{${keys.join(',')}}`);
    },
  });
  const problem = (file.error ?? error)?.message;
  // Enter does what is meant most often.
  const main = useRef<HTMLButtonElement>(null);
  const isReady = offer !== undefined && offer.records.length > 0;
  useEffect(() => {
    if (isReady) main.current?.focus();
  }, [isReady]);
  return (
    <Panel
      title="File this source and cite it?"
      about="What you pasted is a record of a source. It belongs among the sources; here goes its citation."
      className="w-[34rem]"
      onClose={onClose}
    >
      <ul className="mt-3 max-h-56 space-y-2 overflow-y-auto">
        {offer?.records.map((r) => (
          <li key={r.key} className="border-l-2 border-plum pl-3">
            <span className="font-serif text-[15px]">{r.title || 'without a title'}</span>
            <span className="block text-[12.5px] text-ink-2">
              {[r.authors, r.year].filter(Boolean).join(' · ')} ·{' '}
              <span className="font-mono text-plum">{r.twin ?? r.key}</span>
              {r.twin && ' is in the pool already'}
            </span>
          </li>
        ))}
      </ul>
      {[...(offer?.problems ?? []), ...(problem ? [problem] : [])].map((p) => (
        <p key={p} role="alert" className="mt-2 text-rubric">
          {p}
        </p>
      ))}
      <div className="mt-4 flex justify-end gap-2">
        <button className="button" onClick={onPlain}>
          Paste it as text
        </button>
        <button
          ref={main}
          className="button button-main"
          disabled={!isReady || file.isPending}
          onClick={() => file.mutate()}
        >
          File it and cite it
        </button>
      </div>
    </Panel>
  );
}
