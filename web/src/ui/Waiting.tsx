import { useEffect, useState } from 'react';

/** Shown after this many milliseconds: what comes sooner needs no word. */
const SaidAfter = 400;

/** What stands where something is on its way; when it can't be fetched just now, that it is tried again by itself. */
export function Waiting({ what, failure }: { what: string; failure: Error | null }) {
  const [isLong, setIsLong] = useState(false);
  useEffect(() => {
    const timer = window.setTimeout(() => setIsLong(true), SaidAfter);
    return () => window.clearTimeout(timer);
  }, []);
  if (failure) {
    return (
      <p role="status" className="p-10">
        {what}: the server can’t be reached just now. It is asked again until it answers; you need do nothing.
      </p>
    );
  }
  return isLong ? <p className="p-10 text-ink-2">Fetching {what.charAt(0).toLowerCase() + what.slice(1)} …</p> : null;
}
