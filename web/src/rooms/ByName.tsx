import { useQuery } from '@tanstack/react-query';
import { useState, useSyncExternalStore } from 'react';
import { useNavigate } from 'react-router';
import { proofQuery, sourcesQuery } from '../api/queries';
import { useKey } from '../ui/useKey';
import { actionsOf } from './actions';
import { useRoom } from './roomContext';
import { rooms } from './rooms';
import { ThingFinder } from './ThingFinder';
import { thingsOf, type Thing } from './things';

/** Reaches everything by its name: what can be done, rooms, files, sections, labels and sources. F4 opens it. */
export function ByName() {
  const [isOpen, setIsOpen] = useState(false);
  useKey('F4', () => setIsOpen(true));
  return isOpen && <Finder onClose={() => setIsOpen(false)} />;
}

function Finder({ onClose }: { onClose: () => void }) {
  const { manuscript, memory } = useRoom();
  const { data: proof } = useQuery(proofQuery(manuscript.id));
  const { data: sources } = useQuery(sourcesQuery(manuscript.id));
  const own = useSyncExternalStore(memory.listen, () => actionsOf(memory));
  const navigate = useNavigate();
  const things = thingsOf({
    manuscript,
    rooms: rooms.filter((r) => r.isFor(manuscript.role)),
    report: proof?.report,
    sources: sources?.rows ?? [],
    actions: own.actions,
  });
  const reach = ({ to }: Thing) => {
    const base = `/m/${manuscript.id}`;
    if ('run' in to) to.run();
    else if ('address' in to) void navigate(`${base}/${to.address}`);
    else if (own.goTo) own.goTo(to.file, to.line);
    else void navigate(`${base}/write?file=${encodeURIComponent(to.file)}&line=${to.line}`);
  };
  return (
    <ThingFinder
      title="Everything by name"
      placeholder="An action, a file, a section, a label, a source …"
      things={things}
      onReach={reach}
      onClose={onClose}
    />
  );
}
