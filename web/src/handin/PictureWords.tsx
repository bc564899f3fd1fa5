import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { post, type CheckPlace, type UndoStep } from '../api/client';
import { useRoom } from '../rooms/roomContext';

const Longest = 1000;

/** The picture, and a field for what it shows: the words go into the markup, where the picture is placed. */
export function PictureWords({ place }: { place: CheckPlace }) {
  const { manuscript } = useRoom();
  const [words, setWords] = useState('');
  const path = `/api/manuscripts/${manuscript.id}`;
  const writing = useMutation({
    mutationFn: (said: string) =>
      post<UndoStep[]>(`${path}/hand-in/picture-words`, { file: place.file, offset: place.offset, words: said }),
  });
  const file = manuscript.files.find((f) => f.path === place.says);
  const isShown = file && /\.(png|jpe?g|svg)$/i.test(file.path);
  return (
    <form
      className="flex items-center gap-2.5 py-1"
      onSubmit={(e) => {
        e.preventDefault();
        writing.mutate(words);
      }}
    >
      <span className="flex h-12 w-16 shrink-0 items-center justify-center overflow-hidden rounded border border-rule bg-sheet">
        {isShown && <img src={`${path}/files/${file.id}/content`} alt="" className="max-h-full max-w-full" />}
      </span>
      <label className="flex min-w-0 flex-1 flex-col">
        <span className="truncate">
          What {place.says} shows{place.sheet ? `, page ${place.sheet} of the PDF` : ''}
        </span>
        <input
          className="field py-1 text-ink"
          maxLength={Longest}
          disabled={writing.isPending || writing.isSuccess}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        {writing.error && (
          <span role="alert" className="text-rubric">
            {writing.error.message}
          </span>
        )}
      </label>
      <button
        className="button self-end px-2.5 py-1"
        disabled={!words.trim() || writing.isPending || writing.isSuccess}
      >
        {writing.isSuccess ? 'Written' : 'Write'}
      </button>
      <button
        type="button"
        className="button self-end px-2.5 py-1"
        disabled={writing.isPending || writing.isSuccess}
        onClick={() => writing.mutate('')}
      >
        Decoration only
      </button>
    </form>
  );
}
