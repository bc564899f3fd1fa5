import { useEffect, useEffectEvent } from 'react';

/** What is done when Ctrl, or the key for commands, and a letter are pressed anywhere: instead of what the browser would do. */
export function useKey(key: `Mod-${string}`, run: () => void) {
  const act = useEffectEvent(run);
  const letter = key.slice('Mod-'.length);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const isIt = event.key.toLowerCase() === letter && (event.ctrlKey || event.metaKey);
      if (!isIt || event.shiftKey || event.altKey) return;
      event.preventDefault();
      act();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [letter]);
}
