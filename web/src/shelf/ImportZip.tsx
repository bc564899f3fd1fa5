import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Link } from 'react-router';
import { call, type BroughtIn } from '../api/client';
import { Arrival } from '../rooms/ArrivalStrip';
import { Panel } from '../ui/Panel';

/** Imports a manuscript from a .zip, or from a folder that became one: asks for its title, then says what came in, what didn't, and what isn't covered. */
export function ImportZip({ file, onClose }: { file: File; onClose: () => void }) {
  const [title, setTitle] = useState(file.name.replace(/\.zip$/i, '').replace(/[-_]+/g, ' '));
  const importing = useMutation({
    mutationFn: () => call<BroughtIn>('POST', `/api/manuscripts/zip?title=${encodeURIComponent(title)}`, file),
  });
  const { data: done, isPending: busy } = importing;
  const problem = importing.error?.message;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    importing.mutate();
  };
  return (
    <Panel
      title={done ? 'Imported' : `Import ${file.name}`}
      className="max-h-[85vh] w-[32rem] overflow-y-auto"
      busy={busy}
      onClose={onClose}
    >
      {done ? (
        <>
          <div className="mt-2">
            <Arrival arrival={done} />
          </div>
          <p className="mt-2 text-ink-2">This stays above its rooms until you have read it.</p>
          <div className="mt-4 flex justify-end gap-2">
            <button className="button" onClick={onClose}>
              Stay on the shelf
            </button>
            <Link className="button button-main" to={`/m/${done.id}/write`}>
              Open it
            </Link>
          </div>
        </>
      ) : (
        <form onSubmit={submit} className="mt-3 flex flex-col gap-3">
          <label className="flex flex-col gap-1 text-ink-2">
            Title on your shelf
            <input className="field text-ink" value={title} onChange={(e) => setTitle(e.target.value)} autoFocus />
          </label>
          {problem && (
            <p role="alert" className="text-rubric">
              {problem}
            </p>
          )}
          <div className="flex justify-end gap-2">
            <button type="button" className="button" onClick={onClose} disabled={busy}>
              Cancel
            </button>
            <button className="button button-main" disabled={busy || !title.trim()}>
              {busy ? 'Unpacking and typesetting …' : 'Import'}
            </button>
          </div>
        </form>
      )}
    </Panel>
  );
}
