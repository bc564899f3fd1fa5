import { Link } from 'react-router';
import type { CheckPlace } from '../api/client';
import { useRoom } from '../rooms/roomContext';

/** What was found at a place, with the way to it. */
export function PlaceLine({ place, wraps = false }: { place: CheckPlace; wraps?: boolean }) {
  const { manuscript } = useRoom();
  return (
    <span className={wraps ? '' : 'flex items-baseline gap-2'}>
      <span className={wraps ? 'mr-2' : 'min-w-0 truncate'}>{place.says}</span>
      {place.sheet && <span className="mr-2 shrink-0">page {place.sheet} of the PDF</span>}
      {place.file && (
        <Link className="shrink-0 text-slate underline" to={addressOf(manuscript.id, place)}>
          {place.file}
          {place.line ? `, line ${place.line}` : ''}
        </Link>
      )}
    </span>
  );
}

/** Where a place is written. */
export const addressOf = (id: number, place: CheckPlace) =>
  `/m/${id}/write?file=${encodeURIComponent(place.file ?? '')}${place.line ? `&line=${place.line}` : ''}`;
