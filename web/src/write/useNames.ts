import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Manuscript, Report } from '../api/client';
import type { Pointed } from './completion/pointed';

/** What may be done with a name in the text. */
export type NameAct = 'go' | 'uses' | 'rename';

/** A line of a file. */
interface Place {
  file: string;
  line: number;
}

/** Where a name is defined; null when the manuscript's own files don't say. */
export function definitionOf({ kind, name }: Pointed, report: Report, manuscript: Manuscript): Place | null {
  const ending = (path: string) => path.slice(path.lastIndexOf('.') + 1);
  switch (kind) {
    case 'label': {
      const label = report.labels.find((l) => l.key === name);
      return label?.file ? { file: label.file, line: label.line ?? 1 } : null;
    }
    case 'file': {
      const file = manuscript.files.find(
        (f) => f.path === name || f.path.slice(0, -ending(f.path).length - 1) === name,
      );
      return file?.isText ? { file: file.path, line: 1 } : null;
    }
    case 'source':
      return null;
    default: {
      const found = report.definitions.findLast((d) => d.kind === kind && d.name === name);
      return found ? { file: found.file, line: found.line } : null;
    }
  }
}

interface Ways {
  report: Report | undefined;
  manuscript: Manuscript;
  canWrite: boolean;
  onOpen: (file: string, line: number) => void;
  onFind: (words: string) => void;
  onProblem: (why: string) => void;
}

/** Goes to where a name is defined, finds all its uses, or begins to change it. */
export function useNames({ report, manuscript, canWrite, onOpen, onFind, onProblem }: Ways) {
  const [renaming, setRenaming] = useState<Pointed | null>(null);
  const navigate = useNavigate();
  const act = (of: Pointed, what: NameAct) => {
    onProblem('');
    const slash = of.kind === 'command' ? '\\' : '';
    if (what === 'uses') return onFind(slash + of.name);
    if (of.kind === 'source') return void navigate(`../sources?key=${encodeURIComponent(of.name)}`);
    if (what === 'rename' && of.kind !== 'file') {
      if (canWrite) setRenaming(of);
      return;
    }
    if (what === 'rename') return onProblem('A file is renamed in the spine, under Files; what names it follows.');
    const place = report ? definitionOf(of, report, manuscript) : null;
    if (place) return onOpen(place.file, place.line);
    onProblem(
      of.kind === 'label' || of.kind === 'file'
        ? `There is no ${of.kind} “${of.name}” to go to.`
        : `${slash}${of.name} isn’t defined in this manuscript: it comes with the class or a package.`,
    );
  };
  return { act, renaming, endRenaming: () => setRenaming(null) };
}
