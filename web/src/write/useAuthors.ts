import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { authorsQuery } from '../api/queries';
import { initialsOf } from '../ui/initials';
import { moment } from '../ui/time';
import type { AuthoredStretch } from './source/authors';

/** Who wrote what of a text, for its margin. */
export interface Authors {
  version: number;
  stretches: AuthoredStretch[];
}

/** Asks who wrote a file, while that is wanted. */
export function useAuthors(manuscript: number, file: number, isWanted: boolean): Authors | null {
  const { data } = useQuery({ ...authorsQuery(manuscript, file), enabled: isWanted });
  return useMemo(() => {
    if (!isWanted || !data) return null;
    const events = new Map(data.events.map((e) => [e.number, e]));
    let at = 0;
    const stretches = data.stretches.flatMap(({ length, event: number }) => {
      const from = at;
      at += length;
      const event = events.get(number);
      const person = event?.person;
      if (!event || !person) return [];
      return [
        {
          from,
          to: at,
          event: number,
          colour: person.colour,
          initials: initialsOf(person.name),
          says: `${event.script ?? person.name}, ${moment(event.end)}`,
        },
      ];
    });
    return { version: data.version, stretches };
  }, [data, isWanted]);
}
