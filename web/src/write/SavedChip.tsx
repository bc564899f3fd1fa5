import { CloudOff } from 'lucide-react';
import { useRoom } from '../rooms/roomContext';
import { troubleOf, useSaving } from './saving';

/** How saving stands. */
export function SavedChip(props: {
  /** What one types is a suggestion. */
  suggests: boolean;
  /** Someone asked for it by key. */
  isAsked: boolean;
}) {
  const { suggests, isAsked } = props;
  const { canWrite } = useRoom();
  const isOff = useSaving((save, connected) => save.offline || !connected);
  const isWaiting = useSaving((save) => save.waiting > 0);
  const trouble = useSaving(troubleOf);
  const base = 'chip ml-auto shrink-0';
  if (isOff) {
    return (
      <span className={`${base} bg-ochre-tint text-ochre-ink`} data-testid="saved">
        <CloudOff className="size-3.5" aria-hidden />
        {trouble}
      </span>
    );
  }
  if (suggests && !isWaiting && !trouble)
    return (
      <span
        className={`${base} bg-ochre-tint text-ochre-ink`}
        title="What you type is a suggestion, and leaves the text as it is"
      >
        suggesting
      </span>
    );
  if (!canWrite) return <span className={`${base} bg-tint text-tint-ink`}>you may read this</span>;
  if (trouble) {
    return (
      <span className={`${base} bg-rubric-tint text-rubric-ink`} data-testid="saved">
        {trouble}
      </span>
    );
  }
  return (
    <span data-testid="saved" className={`${base} bg-moss-tint text-moss-ink`}>
      {isWaiting ? 'saving …' : isAsked ? 'saved, by itself' : 'saved'}
    </span>
  );
}
