import type { Extension } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { isRecord } from '../citations';
import { isCells } from '../making/pasted';
import { isPicture } from '../making/pictures';
import { suggests } from './suggesting';

/** Whoever takes what comes into a text otherwise than by typing; the text isn't changed by it. */
export interface IncomingListener {
  /** A record of a source was pasted. */
  onRecord: (text: string) => void;
  /** Cells of a spreadsheet were pasted. */
  onCells: (text: string) => void;
  /** Pictures were pasted, or dropped at a place. */
  onPictures: (files: File[], at: number) => void;
}

const picturesIn = (data: DataTransfer | null) => [...(data?.files ?? [])].filter((f) => isPicture(f));

/** Tells of what is pasted that is more than words. */
export const incoming = (to: () => IncomingListener | null): Extension =>
  EditorView.domEventHandlers({
    paste: ({ clipboardData }, view) => {
      const listener = to();
      if (view.state.readOnly || view.state.facet(suggests) || !listener) return false;
      const words = clipboardData?.getData('text/plain') ?? '';
      const pictures = picturesIn(clipboardData);
      // Spreadsheets lay a picture of the cells beside them.
      if (pictures.length > 0 && !words) listener.onPictures(pictures, view.state.selection.main.head);
      else if (isRecord(words)) listener.onRecord(words);
      else if (isCells(words)) listener.onCells(words);
      else return false;
      return true;
    },
  });

/** The place of a text under a drop, where pictures are dropped; null elsewhere. */
export function placeOfDrop(view: EditorView, event: DragEvent): number | null {
  if (
    view.state.readOnly ||
    view.state.facet(suggests) ||
    !(event.target instanceof Node) ||
    !view.contentDOM.contains(event.target)
  )
    return null;
  return view.posAtCoords({ x: event.clientX, y: event.clientY }, false);
}
