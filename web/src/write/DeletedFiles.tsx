import { useMutation, useQuery } from '@tanstack/react-query';
import { ChevronRight, RotateCcw } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { useState } from 'react';
import { post } from '../api/client';
import { deletedQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { moment } from '../ui/time';

/** The files that were deleted, each with a way back. They are fetched when they are looked at. */
export function DeletedFiles() {
  const { manuscript, canWrite } = useRoom();
  const [open, setOpen] = useState(false);
  const { data: gone, error } = useQuery({ ...deletedQuery(manuscript.id), enabled: open });
  const bringBack = useMutation({
    mutationFn: (file: number) => post(`/api/manuscripts/${manuscript.id}/files/${file}/back`, {}),
  });
  const problem = (bringBack.error ?? error)?.message;
  return (
    <Collapsible.Root open={open} onOpenChange={setOpen} className="mt-3 border-t border-rule pt-1.5">
      <Collapsible.Trigger className="flex w-full items-center gap-1 px-1 py-0.5 text-left text-[12px] text-ink-2">
        <ChevronRight className={`size-3.5 transition-transform ${open ? 'rotate-90' : ''}`} aria-hidden />
        Deleted
      </Collapsible.Trigger>
      <Collapsible.Content>
        {problem && (
          <p role="alert" className="px-1 py-1 text-[12.5px] text-rubric">
            {problem}
          </p>
        )}
        {gone?.length === 0 && <p className="px-1 py-1 text-[12.5px] text-ink-2">Nothing was deleted.</p>}
        <ul aria-label="Deleted files">
          {gone?.map(({ file, person, at }) => (
            <li key={file.id} className="flex items-center gap-1 rounded px-1.5 py-1 hover:bg-page/60">
              <span className="min-w-0 flex-1">
                <span className="block truncate text-[12.5px]" title={file.path}>
                  {file.path}
                </span>
                <span className="block truncate text-[11.5px] text-ink-2">
                  {person ? `${person.name}, ` : ''}
                  {moment(at)}
                </span>
              </span>
              {canWrite && (
                <button
                  className="button shrink-0 px-1.5 py-1"
                  aria-label={`Bring back ${file.path}`}
                  title="Bring back"
                  onClick={() => bringBack.mutate(file.id)}
                >
                  <RotateCcw className="size-3.5" aria-hidden />
                </button>
              )}
            </li>
          ))}
        </ul>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
