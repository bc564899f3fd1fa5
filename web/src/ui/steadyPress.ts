/** What answers to a press. */
const pressables = 'button, a[href], label, input, [role="row"], [role="menuitem"]';

/** Moves of a hand that presses, in pixels: a longer way is a change of mind, or a drag. */
const Tremble = 4;

/**
 * A press counts for what was under the pointer when it began. Pages live: what comes in between press and release may move a button
 * away, and browsers then press what both places lie in, so that nothing happens. Gives what ends it.
 */
export function steadyPresses(page: Document): () => void {
  let began: { on: HTMLElement; x: number; y: number } | null = null;
  const down = (event: PointerEvent) => {
    const on = (event.target as Element | null)?.closest<HTMLElement>(pressables);
    const isPlain =
      event.isPrimary &&
      event.button === 0 &&
      ![event.ctrlKey, event.metaKey, event.shiftKey, event.altKey].some(Boolean);
    began = on && isPlain ? { on, x: event.clientX, y: event.clientY } : null;
  };
  const up = ({ target, clientX: x, clientY: y }: PointerEvent) => {
    const press = began;
    began = null;
    if (!press?.on.isConnected || Math.hypot(x - press.x, y - press.y) > Tremble) return;
    const { left, right, top, bottom } = press.on.getBoundingClientRect();
    const isOverIt = x >= left && x <= right && y >= top && y <= bottom;
    // Where the pointer is still on it, or on what hangs out of it, the press is the browser’s.
    if (!isOverIt && !press.on.contains(target as Node | null)) press.on.click();
  };
  const cancel = () => void (began = null);
  page.addEventListener('pointerdown', down, true);
  page.addEventListener('pointerup', up, true);
  page.addEventListener('pointercancel', cancel, true);
  return () => {
    page.removeEventListener('pointerdown', down, true);
    page.removeEventListener('pointerup', up, true);
    page.removeEventListener('pointercancel', cancel, true);
  };
}
