import { useMutation } from '@tanstack/react-query';
import { post, type TypedNote } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { Words } from './Words';

/** A note that is typed in the text: it leads there, and goes into the margin. */
export function TypedThread(props: { note: TypedNote; onGo: () => void; onTaken: (id: number) => void }) {
  const { note, onGo, onTaken } = props;
  const { manuscript, canWrite } = useRoom();
  const taking = useMutation({
    mutationFn: () =>
      post<number>(`/api/manuscripts/${manuscript.id}/notes/typed`, {
        path: note.path,
        command: note.command,
        from: note.from,
        text: note.text,
      }),
    onSuccess: onTaken,
  });
  return (
    <li className="border-b border-rule/70 px-2.5 py-1.5 hover:bg-page/50">
      <button className="block w-full text-left" onClick={onGo}>
        <span className="flex items-center gap-1.5 text-[12px] text-ink-2">
          <span className="truncate font-mono">\{note.command}</span>
          <span className="ml-auto shrink-0">line {note.line}</span>
        </span>
        <Words text={note.text || '(nothing)'} people={manuscript.people} />
      </button>
      {canWrite && (
        <button
          className="text-[12.5px] text-slate underline"
          title="Takes it out of the text, and makes it a note on the words before it"
          disabled={taking.isPending}
          onClick={() => taking.mutate()}
        >
          Into the margin
        </button>
      )}
      {taking.error && (
        <p role="alert" className="text-[12.5px] text-rubric-ink">
          {taking.error.message}
        </p>
      )}
    </li>
  );
}
