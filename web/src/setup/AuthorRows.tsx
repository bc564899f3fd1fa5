import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { Setting } from '../api/client';
import { authorsOf, markupOf, type Author } from './authors';

/** The authors, a row each: the name, and where they are. */
export function AuthorRows(props: { setting: Setting; isBusy: boolean; onSet: (value: string) => void }) {
  const { setting, isBusy, onSet } = props;
  const [rows, setRows] = useState<Author[]>(() => authorsOf(setting.value ?? ''));
  const take = (now: Author[]) => {
    setRows(now);
    if (markupOf(now) !== markupOf(authorsOf(setting.value ?? ''))) onSet(markupOf(now));
  };
  const change = (at: number, part: Partial<Author>) =>
    setRows(rows.map((row, i) => (i === at ? { ...row, ...part } : row)));
  return (
    <div className="space-y-1">
      {rows.map((row, i) => (
        <div key={i} className="flex gap-1.5">
          {(['name', 'institute'] as const).map((part) => (
            <input
              key={part}
              aria-label={`${part === 'name' ? 'Name' : 'Institute'} of author ${i + 1}`}
              placeholder={part === 'name' ? 'Name' : 'Institute'}
              className="field min-w-0 flex-1 py-1"
              disabled={isBusy}
              value={row[part]}
              onChange={(e) => change(i, { [part]: e.target.value })}
              onBlur={() => take(rows)}
              onKeyDown={(e) => e.key === 'Enter' && take(rows)}
            />
          ))}
          <button
            aria-label={`Take out author ${i + 1}`}
            className="px-1 text-ink-2 hover:text-rubric disabled:invisible"
            disabled={isBusy || rows.length === 1}
            onClick={() => take(rows.filter((_, at) => at !== i))}
          >
            <X className="size-3.5" aria-hidden />
          </button>
        </div>
      ))}
      <button
        className="button px-2 py-0 text-[12px]"
        disabled={isBusy || rows.some((r) => !r.name.trim())}
        onClick={() => setRows([...rows, { name: '', institute: rows.at(-1)?.institute ?? '' }])}
      >
        <Plus className="size-3" aria-hidden /> Another author
      </button>
    </div>
  );
}
