import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call, post, type Pin } from '../api/client';
import { Panel } from '../ui/Panel';

/** Names a moment, or gives a pin another name. */
export function PinDialog(props: { manuscript: number; pin?: Pin; revision?: number; onClose: () => void }) {
  const { manuscript, pin, revision, onClose } = props;
  const [name, setName] = useState(pin?.name ?? '');
  const [note, setNote] = useState(pin?.note ?? '');
  const path = `/api/manuscripts/${manuscript}/pins`;
  const pinning = useMutation({
    mutationFn: () =>
      pin ? call('PATCH', `${path}/${pin.id}`, { name, note }) : post(path, { name, note, revision: revision ?? null }),
    onSuccess: onClose,
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    pinning.mutate();
  };
  return (
    <Panel
      title={pin ? 'Name and note' : 'Pin this moment'}
      className="w-[28rem]"
      busy={pinning.isPending}
      onClose={onClose}
    >
      <form onSubmit={submit} className="mt-3 flex flex-col gap-3">
        <label className="flex flex-col gap-1 text-ink-2">
          What to call it
          <input
            className="field text-ink"
            placeholder="Second draft, to the supervisor"
            maxLength={100}
            value={name}
            onChange={(e) => setName(e.target.value)}
            autoFocus
          />
        </label>
        <label className="flex flex-col gap-1 text-ink-2">
          A note, if there is more to say
          <textarea
            className="field text-ink"
            rows={3}
            maxLength={2000}
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        </label>
        {!pin && <p className="text-ink-2">Its proof is made and kept for good.</p>}
        {pinning.error && (
          <p role="alert" className="text-rubric">
            {pinning.error.message}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
          <button className="button button-main" disabled={pinning.isPending || !name.trim()}>
            {pinning.isPending ? 'Making its proof …' : pin ? 'Save' : 'Pin it'}
          </button>
        </div>
      </form>
    </Panel>
  );
}
