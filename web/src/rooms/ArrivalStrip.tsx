import { useMutation, useQueryClient } from '@tanstack/react-query';
import { call, type BroughtIn } from '../api/client';
import { keys } from '../api/queries';
import { plural } from '../ui/words';

/** What is to be said of a manuscript that came in from elsewhere. */
export function Arrival({ arrival }: { arrival: BroughtIn }) {
  const { files, mainFile, states, unknownPackages, missing, leftOut, remarks } = arrival;
  return (
    <div className="space-y-1.5">
      <p>
        {plural(files, 'file')}; compiling starts at <b className="font-medium">{mainFile}</b>.
        {states > 0 && ` ${plural(states, 'state')} of its history came along: the Chronicle has them.`}
      </p>
      {unknownPackages.length > 0 && (
        <p>
          Not covered: {unknownPackages.length === 1 ? 'the package' : 'the packages'}{' '}
          <b className="font-medium">{unknownPackages.join(', ')}</b>. The findings in the Write room say what that
          affects.
        </p>
      )}
      {missing.length > 0 && (
        <div>
          Asked for, and not among them:
          <ul className="list-disc pl-5">
            {missing.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ul>
        </div>
      )}
      {remarks.length > 0 && (
        <ul className="list-disc pl-5">
          {remarks.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      )}
      {leftOut.length > 0 && (
        <details>
          <summary className="cursor-pointer">
            Left out: {plural(leftOut.length, 'by-product')} of other tools, which {leftOut.length === 1 ? 'is' : 'are'}{' '}
            made anew
          </summary>
          <p className="font-mono text-[12px] text-ink-2">{leftOut.join('  ')}</p>
        </details>
      )}
    </div>
  );
}

/** The same above the rooms, until someone who writes here has read it. */
export function ArrivalStrip(props: { manuscript: number; arrival: BroughtIn; canWrite: boolean }) {
  const { manuscript, arrival, canWrite } = props;
  const client = useQueryClient();
  const closing = useMutation({
    mutationFn: () => call('DELETE', `/api/manuscripts/${manuscript}/arrival`),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.manuscript(manuscript) }),
  });
  return (
    <section
      aria-label="How it came in"
      className="flex max-h-[30vh] shrink-0 items-start gap-4 overflow-y-auto border-b border-rule bg-note px-4 py-2"
    >
      <div className="min-w-0 flex-1">
        <Arrival arrival={arrival} />
        {closing.error && <p className="text-rubric-ink">{closing.error.message}</p>}
      </div>
      {canWrite && (
        <button className="button shrink-0 px-2 py-0.5" disabled={closing.isPending} onClick={() => closing.mutate()}>
          I’ve read it
        </button>
      )}
    </section>
  );
}
