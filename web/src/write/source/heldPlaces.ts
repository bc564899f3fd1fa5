import { StateEffect, StateField, type EditorState } from '@codemirror/state';
import type { EditorView } from '@codemirror/view';
import type { StoredStretch } from '../../live/textSync';
import type { Stretch } from './blocks';

/** A stretch that is kept in sight while the text goes on being written. */
export interface HeldPlace {
  /** Where it is by now. */
  now: () => Stretch;
  /** Its words by now. */
  words: () => string;
  /** It is needed no longer. */
  release: () => void;
}

/** Words that one says something of, while the text goes on being written. */
export interface HeldWords {
  /** The words when they were chosen. */
  words: string;
  /** Their place in the text that the server has, once it has all that was typed in it; fails without a connection. */
  stored: () => Promise<StoredStretch>;
  /** They are needed no longer. */
  release: () => void;
}

const holding = StateEffect.define<{ id: number } & Stretch>();
const releasing = StateEffect.define<number>();

/** The stretches that are held: the text carries them along. */
export const heldPlaces = StateField.define<ReadonlyMap<number, Stretch>>({
  create: () => new Map(),
  update(held, { changes, effects, docChanged }) {
    if (!effects.some((e) => e.is(holding) || e.is(releasing)) && (!docChanged || held.size === 0)) return held;
    const next = new Map<number, Stretch>();
    for (const [id, { from, to }] of held) {
      // What is written at its ends stands beside it.
      const start = changes.mapPos(from, 1);
      next.set(id, { from: start, to: Math.max(start, changes.mapPos(to, -1)) });
    }
    for (const effect of effects) {
      if (effect.is(holding)) next.set(effect.value.id, { from: effect.value.from, to: effect.value.to });
      if (effect.is(releasing)) next.delete(effect.value);
    }
    return next;
  },
});

let last = 0;

/** Keeps a stretch in sight. */
export function hold(view: EditorView, { from, to }: Stretch): HeldPlace {
  const id = ++last;
  const of = (state: EditorState) => state.field(heldPlaces).get(id) ?? { from: 0, to: 0 };
  view.dispatch({ effects: holding.of({ id, from, to }) });
  return {
    now: () => of(view.state),
    words: () => {
      const now = of(view.state);
      return view.state.sliceDoc(now.from, now.to);
    },
    release: () => view.dispatch({ effects: releasing.of(id) }),
  };
}
