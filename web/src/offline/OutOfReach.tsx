import { CloudOff } from 'lucide-react';
import { moment } from '../ui/time';

/** Says that the manuscript comes out of this browser, of when it is, and what can be done with it. */
export function OutOfReach({ asOf }: { asOf: string | undefined }) {
  return (
    <div role="status">
      {asOf && (
        <p className="flex items-center gap-2 border-b border-rule bg-ochre-tint px-4 py-1.5 text-ochre-ink">
          <CloudOff className="size-4 shrink-0" aria-hidden />
          The server can’t be reached. This is the manuscript as of {moment(asOf)}: write on, and what you write goes
          out when the connection is back. Until then there are no new pages, files or PDFs.
        </p>
      )}
    </div>
  );
}
