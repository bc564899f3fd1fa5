import { CloudOff } from 'lucide-react';
import type { SaveState } from '../live/textSync';

const changes = (n: number, one: string, many: string) => `${n} ${n === 1 ? `change ${one}` : `changes ${many}`}`;

/** What is to be said of trouble with saving; empty when there is none. */
export function troubleOf(save: SaveState, connected: boolean): string {
  if (save.offline || !connected) {
    return save.waiting > 0
      ? changes(save.waiting, 'waits for the connection', 'wait for the connection')
      : 'no connection just now';
  }
  if (save.problem)
    return save.waiting > 0 ? changes(save.waiting, 'isn’t saved yet', 'aren’t saved yet') : 'not taken';
  return '';
}

/** How saving stands. */
export function SavedChip(props: {
  save: SaveState;
  connected: boolean;
  canWrite: boolean;
  /** What one types is a suggestion. */
  suggests: boolean;
  /** Someone asked for it by key. */
  isAsked: boolean;
}) {
  const { save, connected, canWrite, suggests, isAsked } = props;
  const base = 'chip ml-auto shrink-0';
  const isOff = save.offline || !connected;
  const trouble = troubleOf(save, connected);
  if (isOff) {
    return (
      <span className={`${base} bg-ochre-tint text-ochre-ink`} data-testid="saved">
        <CloudOff className="size-3.5" aria-hidden />
        {trouble}
      </span>
    );
  }
  if (suggests && save.waiting === 0 && !trouble)
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
      {save.waiting > 0 ? 'saving …' : isAsked ? 'saved, by itself' : 'saved'}
    </span>
  );
}
