import { useMutation } from '@tanstack/react-query';
import { ChevronDown, ChevronRight, FileText, Image, Plus, Upload } from 'lucide-react';
import { useRef, useState, type DragEvent } from 'react';
import { call, post, type ManuscriptFile } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { AskConsent, AskText } from '../ui/Ask';
import { Initials } from '../ui/Brand';
import { MenuItem, MoreMenu } from '../ui/Menu';
import { useKept } from '../ui/useKept';
import { DeletedFiles } from './DeletedFiles';
import { inFolders, movedTo, type Folder } from './folders';

/** The kind of data that a dragged file of the manuscript is. */
const DraggedFile = 'application/x-folio-file';

/** The files of a manuscript in their folders. */
export function Files({ file, onOpen }: { file: ManuscriptFile; onOpen: (file: ManuscriptFile) => void }) {
  const { manuscript, canWrite, present, upload } = useRoom();
  const [creating, setCreating] = useState<string | null>(null);
  const [renaming, setRenaming] = useState<ManuscriptFile | null>(null);
  const [deleting, setDeleting] = useState<ManuscriptFile | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const [closed, setClosed] = useKept<string[]>(`folders.${manuscript.id}`, none);
  const input = useRef<HTMLInputElement>(null);
  const base = `/api/manuscripts/${manuscript.id}/files`;
  const compileFrom = useMutation({
    mutationFn: (f: ManuscriptFile) =>
      call('PATCH', `/api/manuscripts/${manuscript.id}`, { title: null, mainFile: f.id }),
  });
  const remove = useMutation({ mutationFn: (f: ManuscriptFile) => call('DELETE', `${base}/${f.id}`) });
  const move = useMutation({
    mutationFn: ({ id, path }: { id: number; path: string }) => post(`${base}/${id}/name`, { path }),
  });
  const problem = (move.error ?? compileFrom.error ?? remove.error)?.message;

  /** What takes files: those of the manuscript move there; those from outside are uploaded there by the room's frame. */
  const target = (folder: string) => ({
    'data-folder': folder || undefined,
    onDragOver: (event: DragEvent) => {
      if (!canWrite || !event.dataTransfer.types.includes(DraggedFile)) return;
      event.preventDefault();
      event.stopPropagation();
      if (over !== folder) setOver(folder);
    },
    onDragLeave: (event: DragEvent) => {
      if (!(event.relatedTarget instanceof Node && event.currentTarget.contains(event.relatedTarget))) setOver(null);
    },
    onDrop: (event: DragEvent) => {
      setOver(null);
      const dragged = manuscript.files.find((f) => String(f.id) === event.dataTransfer.getData(DraggedFile));
      if (!dragged) return;
      event.preventDefault();
      event.stopPropagation();
      const path = movedTo(dragged.path, folder);
      if (path !== dragged.path) move.mutate({ id: dragged.id, path });
    },
  });

  const row = (f: ManuscriptFile, depth: number) => (
    <li
      key={f.id}
      draggable={canWrite}
      onDragStart={(event) => {
        event.dataTransfer.setData(DraggedFile, String(f.id));
        event.dataTransfer.effectAllowed = 'move';
      }}
      className={`group flex items-center rounded ${f.id === file.id ? 'bg-leaf font-semibold' : 'hover:bg-page/60'}`}
    >
      <button
        className="flex min-w-0 flex-1 items-center gap-1.5 py-1 pr-1.5 text-left text-[12.5px]"
        style={{ paddingLeft: 6 + depth * 14 }}
        aria-label={f.path.includes('/') ? f.path : undefined}
        title={f.path}
        onClick={() => (f.isText ? onOpen(f) : window.open(`${base}/${f.id}/content`, '_blank', 'noopener'))}
      >
        {f.isText ? (
          <FileText className="size-3.5 shrink-0 text-ink-3" aria-hidden />
        ) : (
          <Image className="size-3.5 shrink-0 text-ink-3" aria-hidden />
        )}
        <span className="truncate">{f.path.slice(f.path.lastIndexOf('/') + 1)}</span>
        {present
          .filter((x) => x.place?.file === f.id)
          .map((x) => (
            <Initials key={x.seat} person={x.person} small />
          ))}
        {f.path === manuscript.mainFile && (
          <span className="chip shrink-0 bg-spine px-1.5 py-0 text-[10px] font-normal">main</span>
        )}
      </button>
      {canWrite && (
        <MoreMenu of={f.path}>
          <MenuItem onSelect={() => setRenaming(f)}>Rename or move …</MenuItem>
          {f.path !== manuscript.mainFile && f.path.endsWith('.tex') && (
            <MenuItem onSelect={() => compileFrom.mutate(f)}>Compile from here</MenuItem>
          )}
          {f.path !== manuscript.mainFile && (
            <MenuItem isGrave onSelect={() => setDeleting(f)}>
              Delete …
            </MenuItem>
          )}
        </MoreMenu>
      )}
    </li>
  );

  const folder = ({ path, name, files, folders }: Folder, depth: number) => {
    const isOpen = !closed.includes(path);
    return (
      <li key={path} {...target(path)} className={over === path ? 'rounded bg-chosen' : undefined}>
        <div className="flex items-center">
          <button
            aria-expanded={isOpen}
            aria-label={`Folder ${path}`}
            className="flex min-w-0 flex-1 items-center gap-1 rounded py-1 pr-1.5 text-left text-[12.5px] text-ink-2 hover:bg-page/60"
            style={{ paddingLeft: 4 + depth * 14 }}
            onClick={() => setClosed(isOpen ? [...closed, path] : closed.filter((c) => c !== path))}
          >
            {isOpen ? (
              <ChevronDown className="size-3.5 shrink-0" aria-hidden />
            ) : (
              <ChevronRight className="size-3.5 shrink-0" aria-hidden />
            )}
            <span className="truncate">{name}</span>
          </button>
          {canWrite && (
            <MoreMenu of={`folder ${path}`}>
              <MenuItem onSelect={() => setCreating(`${path}/`)}>New file here …</MenuItem>
            </MoreMenu>
          )}
        </div>
        {isOpen && (
          <ul>
            {folders.map((f) => folder(f, depth + 1))}
            {files.map((f) => row(f, depth + 1))}
          </ul>
        )}
      </li>
    );
  };

  const root = inFolders(manuscript.files);
  return (
    <div className={`min-h-full px-2 pb-3 ${over === '' ? 'bg-chosen/40' : ''}`} {...target('')}>
      {canWrite && (
        <div className="mb-1.5 flex gap-1.5 px-1">
          <button className="button px-2 py-0.5 text-[12px]" onClick={() => setCreating('')}>
            <Plus className="size-3.5" aria-hidden /> New
          </button>
          <button className="button px-2 py-0.5 text-[12px]" onClick={() => input.current?.click()}>
            <Upload className="size-3.5" aria-hidden /> Upload
          </button>
          <input
            ref={input}
            type="file"
            multiple
            hidden
            data-testid="upload"
            onChange={(e) => {
              upload([...(e.target.files ?? [])]);
              e.target.value = '';
            }}
          />
        </div>
      )}
      {problem && (
        <p role="alert" className="px-1 py-1 text-rubric">
          {problem}
        </p>
      )}
      <ul aria-label="Files">
        {root.folders.map((f) => folder(f, 0))}
        {root.files.map((f) => row(f, 0))}
      </ul>
      <DeletedFiles />
      {creating !== null && (
        <AskText
          title="New file"
          label="Its name, with folders if you like: chapters/method.tex"
          initial={creating}
          action="Create"
          onClose={() => setCreating(null)}
          onAnswer={async (path) =>
            onOpen(await post<ManuscriptFile>(base, { path: /\.[a-z]+$/i.test(path) ? path : path + '.tex' }))
          }
        />
      )}
      {renaming && (
        <AskText
          title="Rename or move"
          label="New name"
          initial={renaming.path}
          action="Rename"
          onClose={() => setRenaming(null)}
          onAnswer={async (path) => void (await post(`${base}/${renaming.id}/name`, { path }))}
        >
          <p className="text-ink-2">Where the markup names this file, the name follows.</p>
        </AskText>
      )}
      {deleting && (
        <AskConsent
          title={`Delete ${deleting.path}?`}
          text="The manuscript will be typeset without it. It stays under Deleted, below the files, and can be brought back from there."
          action="Delete it"
          onClose={() => setDeleting(null)}
          onYes={() => remove.mutate(deleting)}
        />
      )}
    </div>
  );
}

const none: string[] = [];
