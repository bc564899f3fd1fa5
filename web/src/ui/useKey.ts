import { useEffect, useEffectEvent } from 'react';

/** Whether a dialog is open: it keeps the keys for itself. */
export const isDialogOpen = () => document.querySelector('[role="dialog"], [role="alertdialog"]') !== null;

/**
 * What is done when a key is pressed anywhere, instead of what the browser would do: a function key, with or without Shift, where no
 * dialog is open; or Ctrl, or the key for commands, and a letter.
 */
export function useKey(key: `F${number}` | `Mod-${string}`, run: (isShifted: boolean) => void) {
  const act = useEffectEvent(run);
  useEffect(() => {
    const isCommand = key.startsWith('Mod-');
    const name = isCommand ? key.slice('Mod-'.length) : key;
    const press = (event: KeyboardEvent) => {
      const isPressed = (isCommand ? event.key.toLowerCase() : event.key) === name;
      if (!isPressed || event.altKey || (event.ctrlKey || event.metaKey) !== isCommand) return;
      if (isCommand ? event.shiftKey : isDialogOpen()) return;
      event.preventDefault();
      act(event.shiftKey);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [key]);
}
