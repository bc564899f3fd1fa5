import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { SourceDetail } from '../api/client';
import { sourceQuery } from '../api/queries';
import { Panel } from '../ui/Panel';

interface Props {
  manuscript: number;
  kept: SourceDetail;
  other: string;
  onMerge: (kept: string, dropped: string, fields: Record<string, string>) => Promise<unknown>;
  onClose: () => void;
}

/** Two entries of one work become one, field by field. */
export function Merge({ manuscript, kept, other, onMerge, onClose }: Props) {
  const { data: twin, error } = useQuery(sourceQuery(manuscript, other));
  const [stays, setStays] = useState(kept.row.key);
  const [picked, setPicked] = useState<Record<string, string>>({});
  const values = (d: SourceDetail) =>
    Object.fromEntries(d.fields.filter((f) => f.value && !f.inherited).map((f) => [f.name, f.value]));
  const left = values(kept);
  const right = twin ? values(twin) : {};
  const names = [...new Set([...Object.keys(left), ...Object.keys(right)])];
  const value = (name: string) => picked[name] ?? (left[name] || right[name] || '');
  const merging = useMutation({
    mutationFn: () =>
      onMerge(
        stays,
        stays === kept.row.key ? other : kept.row.key,
        Object.fromEntries(names.map((n) => [n, value(n)])),
      ),
    onSuccess: onClose,
  });
  const problem = (merging.error ?? error)?.message;
  const cell = (name: string, own: string | undefined) =>
    own ? (
      <label
        className={`flex min-w-0 cursor-pointer items-start gap-2 rounded px-2 py-1 ${value(name) === own ? 'bg-moss-tint' : 'hover:bg-paper'}`}
      >
        <input
          type="radio"
          className="mt-1"
          checked={value(name) === own}
          onChange={() => setPicked({ ...picked, [name]: own })}
        />
        <span className="min-w-0 break-words">{own}</span>
      </label>
    ) : (
      <span className="px-2 py-1 text-ink-3">–</span>
    );
  return (
    <Panel
      title="Merge two entries of one work"
      about="Choose the better value of each field. Every citation of the key that goes will cite the one that stays."
      className="flex max-h-[88vh] w-[52rem] flex-col"
      onClose={onClose}
    >
      {twin && (
        <div className="mt-3 min-h-0 overflow-y-auto">
          <div className="grid grid-cols-[96px_1fr_1fr] gap-x-2 gap-y-1">
            <span className="py-1 text-ink-2">key</span>
            {[kept.row, twin.row].map((r) => (
              <label
                key={r.key}
                className={`flex items-center gap-2 rounded px-2 py-1 font-mono text-[12.5px] ${stays === r.key ? 'bg-moss-tint' : 'hover:bg-paper'}`}
              >
                <input type="radio" name="stays" checked={stays === r.key} onChange={() => setStays(r.key)} />
                {r.key}
                <span className="font-sans text-ink-2">cited {r.uses} ×</span>
              </label>
            ))}
            {names.map((n) => (
              <div key={n} role="group" aria-label={n} className="contents">
                <span className="py-1 text-ink-2">{n}</span>
                {cell(n, left[n])}
                {left[n] === right[n] ? <span className="px-2 py-1 text-ink-3">the same</span> : cell(n, right[n])}
              </div>
            ))}
          </div>
        </div>
      )}
      {problem && (
        <p role="alert" className="mt-3 text-rubric">
          {problem}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <button className="button" onClick={onClose}>
          Cancel
        </button>
        <button className="button button-main" disabled={!twin} onClick={() => merging.mutate()}>
          Merge them
        </button>
      </div>
    </Panel>
  );
}
