import { useMutation } from '@tanstack/react-query';
import { FileText, Image, PanelLeftClose, Plus, Upload } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { memo, useRef, useState, type ReactNode } from 'react';
import { call, post, type Finding, type ManuscriptFile, type OutlineLine, type Report } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { AskConsent, AskText } from '../ui/Ask';
import { Initials } from '../ui/Brand';
import { MenuItem, MoreMenu } from '../ui/Menu';
import { plural } from '../ui/words';
import { DeletedFiles } from './DeletedFiles';
import { Structure } from './Structure';
import { Words } from './Words';

interface Props {
  report: Report | null;
  findings: readonly Finding[];
  /** The versions of the texts that the report is of. */
  versions: Readonly<Record<string, number>>;
  file: ManuscriptFile;
  line: number;
  /** Folds the spine away; null where it can't be. */
  fold: (() => void) | null;
  onTurn: (entry: OutlineLine) => void;
  onOpen: (file: ManuscriptFile) => void;
  face: string;
  onFace: (face: string) => void;
  /** Its third face. */
  find: ReactNode;
}

const tab =
  'truncate rounded px-1.5 py-0.5 text-[12.5px] text-ink-2 data-[state=active]:font-semibold data-[state=active]:text-ink';

/** The column between the leaves: the structure as printed, and the files. */
export const Spine = memo(function Spine(props: Props) {
  const { report, fold, face, onFace, find } = props;
  return (
    <Tabs.Root
      value={face}
      onValueChange={onFace}
      data-leaf="spine"
      className="flex h-full min-h-0 flex-col bg-linear-to-r from-spine-dark via-spine-light via-[9px] to-spine"
    >
      <div className="flex h-[37px] shrink-0 items-center gap-0.5 overflow-hidden px-1.5">
        <Tabs.List className="flex min-w-0 flex-1 items-center" aria-label="Spine">
          <Tabs.Trigger value="structure" className={tab}>
            Structure
          </Tabs.Trigger>
          <Tabs.Trigger value="files" className={tab}>
            Files
          </Tabs.Trigger>
          <Tabs.Trigger value="find" className={tab}>
            Find
          </Tabs.Trigger>
        </Tabs.List>
        {fold && (
          <button
            className="shrink-0 rounded p-1 text-ink-2 hover:bg-page/60 hover:text-ink"
            aria-label="Fold the spine away"
            title="Fold the spine away"
            onClick={fold}
          >
            <PanelLeftClose className="size-3.5" aria-hidden />
          </button>
        )}
      </div>
      <Tabs.Content value="structure" className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
        <Structure {...props} />
      </Tabs.Content>
      <Tabs.Content value="files" className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
        <Files {...props} />
      </Tabs.Content>
      <Tabs.Content value="find" className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
        {find}
      </Tabs.Content>
      <p className="flex shrink-0 flex-wrap justify-between gap-x-2 border-t border-rule px-3 py-2.5 text-[12.5px] text-ink-2">
        <span>{report ? plural(report.pages, 'page') : '\u00a0'}</span>
        {report && <Words report={report} />}
      </p>
    </Tabs.Root>
  );
});

function Files({ file, onOpen }: Props) {
  const { manuscript, canWrite, present, upload } = useRoom();
  const [creating, setCreating] = useState(false);
  const [renaming, setRenaming] = useState<ManuscriptFile | null>(null);
  const [deleting, setDeleting] = useState<ManuscriptFile | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const base = `/api/manuscripts/${manuscript.id}/files`;
  const compileFrom = useMutation({
    mutationFn: (f: ManuscriptFile) =>
      call('PATCH', `/api/manuscripts/${manuscript.id}`, { title: null, mainFile: f.id }),
  });
  const remove = useMutation({ mutationFn: (f: ManuscriptFile) => call('DELETE', `${base}/${f.id}`) });
  const problem = (compileFrom.error ?? remove.error)?.message;
  return (
    <div className="px-2 pb-3">
      {canWrite && (
        <div className="mb-1.5 flex gap-1.5 px-1">
          <button className="button px-2 py-0.5 text-[12px]" onClick={() => setCreating(true)}>
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
        {manuscript.files.map((p) => (
          <li
            key={p.id}
            className={`group flex items-center rounded ${p.id === file.id ? 'bg-leaf font-semibold' : 'hover:bg-page/60'}`}
          >
            <button
              className="flex min-w-0 flex-1 items-center gap-1.5 px-1.5 py-1 text-left text-[12.5px]"
              title={p.path}
              onClick={() => (p.isText ? onOpen(p) : window.open(`${base}/${p.id}/content`, '_blank', 'noopener'))}
            >
              {p.isText ? (
                <FileText className="size-3.5 shrink-0 text-ink-3" aria-hidden />
              ) : (
                <Image className="size-3.5 shrink-0 text-ink-3" aria-hidden />
              )}
              <span className="truncate">{p.path}</span>
              {present
                .filter((x) => x.place?.file === p.id)
                .map((x) => (
                  <Initials key={x.seat} person={x.person} small />
                ))}
              {p.path === manuscript.mainFile && (
                <span className="chip shrink-0 bg-spine px-1.5 py-0 text-[10px] font-normal">main</span>
              )}
            </button>
            {canWrite && (
              <MoreMenu of={p.path}>
                <MenuItem onSelect={() => setRenaming(p)}>Rename or move …</MenuItem>
                {p.path !== manuscript.mainFile && p.path.endsWith('.tex') && (
                  <MenuItem onSelect={() => compileFrom.mutate(p)}>Compile from here</MenuItem>
                )}
                {p.path !== manuscript.mainFile && (
                  <MenuItem isGrave onSelect={() => setDeleting(p)}>
                    Delete …
                  </MenuItem>
                )}
              </MoreMenu>
            )}
          </li>
        ))}
      </ul>
      <DeletedFiles />
      {creating && (
        <AskText
          title="New file"
          label="Its name, with folders if you like: chapters/method.tex"
          action="Create"
          onClose={() => setCreating(false)}
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
