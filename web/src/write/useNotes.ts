import { useQuery } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Note } from '../api/client';
import { notesQuery } from '../api/queries';
import type { NewNote } from '../notes/NotesFace';
import { useRoom } from '../rooms/roomContext';

/** The notes of the Write room: which is chosen, and which is being written. An address may name one. */
export function useNotes(onGo: (note: Note) => void) {
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
  const arrive = useEffectEvent((note: Note) => {
    const rest = new URLSearchParams(search);
    rest.delete('note');
    setSearch(rest, { replace: true });
    choose(note);
  });
  const named = wanted ? notes?.find((n) => n.id === wanted) : undefined;
  useEffect(() => {
    if (named) arrive(named);
  }, [named]);
  return {
    notes,
    chosen,
    choose,
    /** Shows its thread; the text, where one just clicked, stays as it is. */
    read: setChosen,
    writing,
    write: setWriting,
    /** The note that was being written is there, or wasn’t wanted after all. */
    written: (id: number | null) => {
      setWriting(null);
      if (id) setChosen(id);
    },
    open: notes?.filter((n) => n.settledBy === null).length ?? 0,
    mayNote: manuscript.role !== 'reader',
  };
}
