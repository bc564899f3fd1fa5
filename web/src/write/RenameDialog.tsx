import { useMutation, useQuery } from '@tanstack/react-query';
import { Undo2 } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { post, type ReplacedPlaces } from '../api/client';
import { usesQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { Panel } from '../ui/Panel';
import { plural } from '../ui/words';
import type { Pointed } from './completion/pointed';
import { beginningOf, endOf } from './finding';

/** Gives a label, a command or an environment another name everywhere, with a look at where before; it can be taken back. */
export function RenameDialog(props: {
  of: Pick<Pointed, 'kind' | 'name'>;
  onClose: () => void;
  onRenamed?: (to: string) => void;
}) {
  const { of, onClose, onRenamed } = props;
  const { manuscript } = useRoom();
  const [name, setName] = useState(of.name);
  const { data: uses, error } = useQuery(usesQuery(manuscript.id, of.kind, of.name));
  const texts = `/api/manuscripts/${manuscript.id}/texts`;
  const renaming = useMutation({
    mutationFn: () => post<ReplacedPlaces>(`${texts}/rename`, { kind: of.kind, name: of.name, to: name.trim() }),
    onSuccess: () => onRenamed?.(name.trim()),
  });
  const takingBack = useMutation({
    mutationFn: () => post(`${texts}/undo`, renaming.data?.undo),
    onSuccess: () => {
      onRenamed?.(of.name);
      onClose();
    },
  });
  const slash = of.kind === 'command' ? '\\' : '';
  const problem = (error ?? renaming.error ?? takingBack.error)?.message;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    renaming.mutate();
  };
  return (
    <Panel title={`Rename the ${of.kind} ${slash}${of.name}`} className="w-[34rem]" onClose={onClose}>
      {renaming.data ? (
        <div className="mt-3 flex flex-col gap-3">
          <p role="status">
            It is {slash}
            {name.trim()} in {plural(renaming.data.replaced, 'place')} now.
          </p>
          <div className="flex justify-end gap-2">
            <button className="button" disabled={takingBack.isPending} onClick={() => takingBack.mutate()}>
              <Undo2 className="size-3.5" aria-hidden /> Undo
            </button>
            <button className="button button-main" onClick={onClose} autoFocus>
              Done
            </button>
          </div>
        </div>
      ) : (
        <form onSubmit={submit} className="mt-3 flex flex-col gap-3">
          <label className="flex flex-col gap-1 text-ink-2">
            New name
            <input
              className="field font-mono text-ink"
              value={name}
              onChange={(e) => setName(e.target.value)}
              onFocus={(e) => e.target.select()}
              spellCheck={false}
              autoFocus
            />
          </label>
          <p className="text-ink-2">
            {uses
              ? `It stands in ${plural(uses.total, 'place')} of ${plural(uses.files.length, 'file')}; all of them follow.`
              : 'Looking where it stands …'}
          </p>
          <ul aria-label="Places" className="h-40 overflow-y-auto text-[12.5px]">
            {uses?.files.flatMap((f) =>
              f.places.map((p) => (
                <li key={`${f.file} ${p.offset}`} className="flex gap-2 py-0.5">
                  <span className="w-40 shrink-0 truncate text-ink-2" title={f.path}>
                    {f.path}, {p.line}
                  </span>
                  <span className="min-w-0 truncate font-mono">
                    {endOf(p.before, 24)}
                    <mark className="bg-mark text-ink">{p.words}</mark>
                    {beginningOf(p.after, 24)}
                  </span>
                </li>
              )),
            )}
          </ul>
          {problem && (
            <p role="alert" className="text-rubric">
              {problem}
            </p>
          )}
          <div className="flex justify-end gap-2">
            <button type="button" className="button" onClick={onClose}>
              Cancel
            </button>
            <button
              type="submit"
              className="button button-main"
              disabled={renaming.isPending || !name.trim() || name.trim() === of.name}
            >
              Rename
            </button>
          </div>
        </form>
      )}
    </Panel>
  );
}
