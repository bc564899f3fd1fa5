import { ViewPlugin, type EditorView, type ViewUpdate } from '@codemirror/view';

/** How far from the edge the line is put, in pixels. */
const Margin = 6;

/**
 * When the source leaf gets lower, because findings come up under it or a strip above it, the line of the cursor stays in sight if
 * it was: else the next words would be typed where nobody sees them.
 */
export const cursorInView = ViewPlugin.define((view: EditorView) => {
  let height = view.scrollDOM.clientHeight;
  const look = () =>
    view.requestMeasure({
      key: cursorInView,
      read: () => {
        const [before, now] = [height, view.scrollDOM.clientHeight];
        height = now;
        if (now >= before) return 0;
        const { top } = view.scrollDOM.getBoundingClientRect();
        const cursor = view.coordsAtPos(view.state.selection.main.head);
        // Less than a pixel is rounding: what is in sight stays where it is.
        if (!cursor || cursor.top < top || cursor.bottom > top + before + 1) return 0;
        const below = cursor.bottom - top - now;
        return below > 1 ? below + Margin : 0;
      },
      write: (hidden) => {
        if (hidden > 0) view.scrollDOM.scrollTop += hidden;
      },
    });
  // The editor passes over a change of size that comes right behind one of its text or marks, as findings do.
  const observer = new ResizeObserver(look);
  observer.observe(view.scrollDOM);
  return {
    update(update: ViewUpdate) {
      if (update.geometryChanged) look();
    },
    destroy: () => observer.disconnect(),
  };
});
