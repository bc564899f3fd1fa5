import { useEffect, useState } from 'react';
import { Live, type Present } from './live';
import { sendOrphans } from './textSync';

/** The live side of a manuscript for as long as a room shows it. */
export function useLive(manuscript: number, person: number) {
  const [live, setLive] = useState<Live | null>(null);
  const [present, setPresent] = useState<Present[]>([]);
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    const made = new Live(manuscript);
    setLive(made);
    const off = [
      made.on('present', setPresent),
      made.on('joined', () => {
        setConnected(true);
        void sendOrphans(made, person);
      }),
      made.on('lost', () => setConnected(false)),
    ];
    return () => {
      off.forEach((f) => f());
      made.close();
      setLive(null);
    };
  }, [manuscript, person]);
  return { live, present, connected };
}
