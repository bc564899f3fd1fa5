import { ViewPlugin, type EditorView, type ViewUpdate } from '@codemirror/view';

/** How far from the edge the line is put, in pixels. */
const Margin = 6;

/**
 * When the source leaf gets lower, because findings come up under it or a strip above it, the line of the cursor stays in sight if
 * it was: else the next words would be typed where nobody sees them.
 */
export const cursorInView = ViewPlugin.define((view: EditorView) => {
  let height = view.scrollDOM.clientHeight;
  return {
    update(update: ViewUpdate) {
      if (!update.geometryChanged) return;
      view.requestMeasure({
        key: cursorInView,
        read: () => {
          const [before, now] = [height, view.scrollDOM.clientHeight];
          height = now;
          if (now >= before) return 0;
          const { top } = view.scrollDOM.getBoundingClientRect();
          const cursor = view.coordsAtPos(view.state.selection.main.head);
          if (!cursor || cursor.top < top || cursor.bottom > top + before) return 0;
          // Less than a pixel is rounding: what is in sight stays where it is.
          const below = cursor.bottom - top - now;
          return below > 1 ? below + Margin : 0;
        },
        write: (hidden) => {
          if (hidden > 0) view.scrollDOM.scrollTop += hidden;
        },
      });
    },
  };
});
