import { useEffect, useRef, useState } from 'react';

/**
 * Speaks of trouble and of its end to those who listen to the page, and of nothing else: what is saved or typeset all the time
 * would drown the words being written.
 */
export function Announcer({ trouble, over }: { trouble: string; over: string }) {
  const [said, setSaid] = useState('');
  const was = useRef('');
  useEffect(() => {
    if (trouble === was.current) return;
    setSaid(trouble || over);
    was.current = trouble;
  }, [trouble, over]);
  return (
    <p role="status" className="sr-only" data-testid="announcer">
      {said}
    </p>
  );
}
