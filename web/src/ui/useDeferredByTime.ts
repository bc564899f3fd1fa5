import { useEffect, useState } from 'react';

/** A value once it has rested for so many milliseconds. */
export function useDeferredByTime<T>(value: T, rest: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), rest);
    return () => window.clearTimeout(timer);
  }, [value, rest]);
  return rested;
}
