import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Manuscript, ManuscriptFile } from '../api/client';

/** A file, and the address that it was opened with; null: as the main file. */
interface Open {
  id: number;
  path: string | null;
}

export interface OpenFile {
  /** The file that is shown; null while the manuscript has no text. */
  file: ManuscriptFile | null;
  /** The line that the address names. */
  line: number;
  /** A file that was open and that somebody deleted; empty when there is none. */
  gone: string;
  forgetGone: () => void;
  open: (path: string) => void;
}

/** Which file is open: the one that the address names, or else the main file. Others may rename or delete it meanwhile. */
export function useOpenFile(manuscript: Manuscript): OpenFile {
  const [search, setSearch] = useSearchParams();
  const [open, setOpen] = useState<Open | null>(null);
  const [gone, setGone] = useState('');
  // Links from when files were called parts still lead here.
  const path = search.get('file') ?? search.get('part');
  const file = choose(manuscript, path, open);
  // A file goes on under its new name, and the loss of one is told.
  if (open && open.path === path && !manuscript.files.some((f) => f.id === open.id)) {
    setGone(open.path ?? '');
    setOpen(null);
  } else if (file && file.path === (path ?? file.path) && (open?.id !== file.id || open.path !== path)) {
    setOpen({ id: file.id, path });
  }
  const isMoved = file !== null && path !== null && path !== file.path && (open?.path === path || gone === path);
  useEffect(() => {
    if (isMoved) setSearch({ file: file.path }, { replace: true });
  }, [isMoved, file, setSearch]);
  return {
    file,
    line: Number(search.get('line')) || 0,
    gone,
    forgetGone: () => setGone(''),
    open: (wanted) => {
      setGone('');
      setSearch({ file: wanted });
    },
  };
}

/** The file at an address. The one that is open stays so under another name. */
export function choose(manuscript: Manuscript, path: string | null, open: Open | null): ManuscriptFile | null {
  const texts = manuscript.files.filter((f) => f.isText);
  return (
    texts.find((f) => f.id === open?.id && path === open.path) ??
    texts.find((f) => f.path === path) ??
    texts.find((f) => f.path === manuscript.mainFile) ??
    null
  );
}
