import { useKey } from './useKey';

/** Where the focus goes in a leaf, the best first: what is marked so, the text, or else whatever takes it. */
const entries = ['[data-entry]', '.cm-content', '[tabindex="0"], button, a[href], input, select'];

function entryOf(leaf: HTMLElement): HTMLElement | undefined {
  for (const entry of entries) {
    const found = [...leaf.querySelectorAll<HTMLElement>(entry)].find(
      (e) => e.checkVisibility() && e.closest('[data-leaf]') === leaf,
    );
    if (found) return found;
  }
  return undefined;
}

/** F6 goes from leaf to leaf, with shift backwards; what is hidden or folded is passed over. */
export function useLeafKeys() {
  useKey('F6', (isShifted) => {
    const leaves = [...document.querySelectorAll<HTMLElement>('[data-leaf]')].filter((l) => l.checkVisibility());
    // A leaf may stand within another: the innermost counts.
    const now = leaves.findLastIndex((l) => l.contains(document.activeElement));
    const step = isShifted ? -1 : 1;
    for (let i = 1; i <= leaves.length; i++) {
      const next = leaves[(now + step * i + leaves.length * 2) % leaves.length]!;
      const target = entryOf(next);
      if (!target) continue;
      target.focus();
      return;
    }
  });
}
