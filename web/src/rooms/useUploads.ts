import { useCallback, useRef, useState } from 'react';
import { call, Refusal } from '../api/client';

/** Why an upload waits for an answer. */
export type Doubt = 'exists' | 'latin1';

/** A file on its way, and what has been agreed to about it. */
interface Upload {
  file: File;
  path: string;
  latin1: boolean;
  replace: boolean;
}

/** How far uploads are. */
export interface Progress {
  /** The file that is on its way. */
  name: string;
  /** Files that have been dealt with, of how many. */
  done: number;
  of: number;
}

export interface Uploads {
  /** Null: nothing is under way. */
  progress: Progress | null;
  /** The file that waits for an answer, and about what. */
  asked: { file: File; doubt: Doubt } | null;
  problems: string[];
  /** Uploads files: into a folder, or where each belongs by its kind. */
  add: (files: Iterable<File>, folder?: string) => void;
  /** Answers about the one that waits: with it, or without. */
  answer: (yes: boolean) => void;
  forget: () => void;
}

/** The folder that a dropped file goes to by its kind. */
export const pathFor = (name: string) => (/\.(png|jpe?g|pdf|svg)$/i.test(name) ? `figures/${name}` : name);

/** Puts a file among a manuscript's. */
export const putFile = async (
  manuscript: number,
  path: string,
  file: File,
  { latin1 = false, replace = false }: Partial<Pick<Upload, 'latin1' | 'replace'>> = {},
) =>
  call(
    'PUT',
    `/api/manuscripts/${manuscript}/files?path=${encodeURIComponent(path)}&latin1=${latin1}&replace=${replace}`,
    // A dropped folder can't be read as a file: that is said here, not by a torn request.
    new Blob([await file.arrayBuffer()]),
  );

/** Why the server didn't take a file, as a question that can be answered; null when there is nothing to ask. */
export function doubtOf(error: unknown): Doubt | null {
  if (!(error instanceof Refusal)) return null;
  if (error.message.includes('Latin-1')) return 'latin1';
  return error.message.startsWith('There is a file') ? 'exists' : null;
}

/** Uploads files one after the other. Each that is there already, or isn't stored as UTF-8, is asked about on its own. */
export function useUploads(manuscript: number): Uploads {
  const waiting = useRef<Upload[]>([]);
  const isBusy = useRef(false);
  const isAsked = useRef(false);
  // How many of those that were added since nothing was under way.
  const added = useRef(0);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [asked, setAsked] = useState<Uploads['asked']>(null);
  const [problems, setProblems] = useState<string[]>([]);

  const run = useCallback(async () => {
    if (isBusy.current) return;
    isBusy.current = true;
    for (let next = waiting.current[0]; next; next = waiting.current[0]) {
      const { file, path, latin1, replace } = next;
      setProgress({ name: path, done: added.current - waiting.current.length, of: added.current });
      try {
        await putFile(manuscript, path, file, { latin1, replace });
      } catch (e) {
        const doubt = doubtOf(e);
        if (doubt) {
          setAsked({ file, doubt });
          isAsked.current = true;
          isBusy.current = false;
          return;
        }
        const why = e instanceof Refusal ? e.message : 'it can’t be read. Is it a folder? Upload what is in it.';
        setProblems((p) => [...p, `${file.name}: ${why}`]);
      }
      waiting.current.shift();
    }
    added.current = 0;
    setProgress(null);
    isBusy.current = false;
  }, [manuscript]);

  const add = useCallback(
    (files: Iterable<File>, folder?: string) => {
      for (const file of files) {
        const path = folder === undefined ? pathFor(file.name) : `${folder}/${file.name}`;
        waiting.current.push({ file, path, latin1: false, replace: false });
        added.current++;
      }
      void run();
    },
    [run],
  );

  const answer = useCallback(
    (yes: boolean) => {
      const first = waiting.current[0];
      // A dialog closes after its answer too: only the first word counts.
      if (!first || !asked || !isAsked.current) return;
      isAsked.current = false;
      if (!yes) waiting.current.shift();
      else if (asked.doubt === 'latin1') first.latin1 = true;
      else first.replace = true;
      setAsked(null);
      void run();
    },
    [asked, run],
  );

  const forget = useCallback(() => setProblems([]), []);
  return { progress, asked, problems, add, answer, forget };
}
