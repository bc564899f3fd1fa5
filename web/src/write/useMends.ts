import { useMutation } from '@tanstack/react-query';
import { post, type Finding, type ManuscriptFile, type Repair } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { useStable } from '../ui/useStable';
import { plural } from '../ui/words';

interface Ways {
  /** Opens the place of a mend, and then goes on. */
  openAt: (repair: Repair, then: () => void) => void;
  onMade: (file: ManuscriptFile) => void;
  /** Carries a mend out in the text that is open. */
  mendHere: (repair: Repair, version: number) => Promise<boolean> | undefined;
  /** The version of a file's text that the findings are of. */
  foundIn: (path: string) => number;
  onProblem: (why: string) => void;
}

/** Carries out the mends of findings: one, to whose place one goes, or all of a cause. */
export function useMends({ openAt, onMade, mendHere, foundIn, onProblem }: Ways) {
  const { manuscript, desk } = useRoom();
  const make = useMutation({
    mutationFn: (path: string) => post<ManuscriptFile>(`/api/manuscripts/${manuscript.id}/files`, { path }),
    onSuccess: onMade,
    onError: (e: Error) => onProblem(e.message),
  });
  /** In a text that need not be in view; false when other words stand there by now, or it can't be had. */
  const mendIn = async (repair: Repair): Promise<boolean> => {
    const file = manuscript.files.find((f) => f.path === repair.file);
    const text = file && (await desk.open(file).catch(() => null));
    return !!text && text.mend(repair, foundIn(repair.file), true);
  };
  /** The part of a mend that is in another file. */
  const mendAlong = ({ file, also }: Repair): Promise<boolean> =>
    also && also.file !== file ? mendIn(also) : Promise.resolve(true);

  const mend = useStable(({ repair }: Finding) => {
    if (!repair) return;
    onProblem('');
    if (repair.newFile) return make.mutate(repair.newFile);
    openAt(repair, () => {
      void mendAlong(repair)
        .then((done) => done && mendHere(repair, foundIn(repair.file)))
        .then((done) => {
          if (done) return;
          onProblem(
            `Other words stand there by now. Look at line ${repair.line} of ${repair.file} yourself, or wait for the next proof.`,
          );
        });
    });
  });
  const mendOneByOne = async (findings: Finding[]) => {
    onProblem('');
    let left = 0;
    for (const { repair } of findings) if (!repair || !(await mendAlong(repair)) || !(await mendIn(repair))) left++;
    if (left > 0) onProblem(`At ${plural(left, 'place')} other words stand by now. Wait for the next proof.`);
  };
  const mendAll = useStable((findings: Finding[]) => void mendOneByOne(findings));
  return { mend, mendAll };
}
