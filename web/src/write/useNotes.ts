import { useQuery } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Note } from '../api/client';
import { notesQuery } from '../api/queries';
import type { NoteFilter } from '../notes/notes';
import type { NewNote } from '../notes/NotesFace';
import { useRoom } from '../rooms/roomContext';
import { useKept } from '../ui/useKept';
import type { HeldWords } from './source/heldPlaces';

/** The notes of the Write room: which is chosen, and which is being written. An address may name one, or those that name oneself. */
export function useNotes(onGo: (note: Note | null) => void) {
  const [filter, setFilter] = useKept<NoteFilter>('which notes', 'open');
  const { manuscript } = useRoom();
  const { data: notes } = useQuery(notesQuery(manuscript.id));
  const [search, setSearch] = useSearchParams();
  const [chosen, setChosen] = useState(0);
  const [writing, setWriting] = useState<NewNote | null>(null);
  const choose = (note: Note) => {
    setChosen(note.id);
    onGo(note);
  };
  // Gone to once: from there on it is a note like others.
  const wanted = Number(search.get('note')) || 0;
  const named = wanted ? notes?.find((n) => n.id === wanted) : undefined;
  const asked = search.get('notes');
  const wantedFilter = asked === 'me' || asked === 'suggested' || asked === 'settled' ? asked : null;
  const arrive = useEffectEvent(() => {
    const rest = new URLSearchParams(search);
    rest.delete('note');
    rest.delete('notes');
    setSearch(rest, { replace: true });
    if (named) choose(named);
    else {
      setFilter(wantedFilter ?? 'open');
      onGo(null);
    }
  });
  useEffect(() => {
    if (named || wantedFilter) arrive();
  }, [named, wantedFilter]);
  return {
    notes,
    filter,
    setFilter,
    chosen,
    choose,
    /** Shows its thread; the text, where one just clicked, stays as it is. */
    read: setChosen,
    writing,
    write: (file: number, held: HeldWords) => {
      writing?.release();
      setWriting((before) => ({ ...held, file, id: (before?.id ?? 0) + 1 }));
    },
    /** The note that was being written is there, or wasn’t wanted after all. */
    written: (id: number | null) => {
      writing?.release();
      setWriting(null);
      if (id) setChosen(id);
    },
    open: notes?.filter((n) => n.settledBy === null).length ?? 0,
    mayNote: manuscript.role !== 'reader',
  };
}
