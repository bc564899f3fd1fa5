import { PanelLeftClose } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { memo, type ReactNode } from 'react';
import type { Finding, ManuscriptFile, OutlineLine, Report } from '../api/client';
import { plural } from '../ui/words';
import { Files } from './Files';
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
  /** Its fourth face, and how many notes are open. */
  notes: ReactNode;
  openNotes: number;
}

const tab =
  'shrink-0 rounded px-1 py-0.5 text-[12px] text-ink-2 data-[state=active]:font-semibold data-[state=active]:text-ink';

/** The column between the leaves: the structure as printed, and the files. */
export const Spine = memo(function Spine(props: Props) {
  const { report, fold, face, onFace, find, notes, openNotes } = props;
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
          <Tabs.Trigger value="notes" className={tab}>
            Notes{openNotes > 0 && <span className="ml-0.5 font-normal text-ochre-ink">{openNotes}</span>}
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
      <Tabs.Content value="notes" className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
        {notes}
      </Tabs.Content>
      <p className="flex shrink-0 flex-wrap justify-between gap-x-2 border-t border-rule px-3 py-2.5 text-[12.5px] text-ink-2">
        <span>{report ? plural(report.pages, 'page') : '\u00a0'}</span>
        {report && <Words report={report} />}
      </p>
    </Tabs.Root>
  );
});
