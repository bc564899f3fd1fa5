import { useEffect } from 'react';

/** Where the focus goes in a leaf, the best first: what is marked so, the text, or else whatever takes it. */
const entries = ['[data-entry]', '.cm-content', '[tabindex="0"], button, a[href]'];

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
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key !== 'F6' || event.ctrlKey || event.altKey || event.metaKey) return;
      // A dialog keeps the focus.
      if (document.querySelector('[role="dialog"], [role="alertdialog"]')) return;
      const leaves = [...document.querySelectorAll<HTMLElement>('[data-leaf]')].filter((l) => l.checkVisibility());
      if (leaves.length === 0) return;
      event.preventDefault();
      // A leaf may stand within another: the innermost counts.
      const now = leaves.findLastIndex((l) => l.contains(document.activeElement));
      const step = event.shiftKey ? -1 : 1;
      for (let i = 1; i <= leaves.length; i++) {
        const next = leaves[(now + step * i + leaves.length * 2) % leaves.length]!;
        const target = entryOf(next);
        if (!target) continue;
        target.focus();
        return;
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}
