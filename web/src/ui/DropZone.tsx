import { useEffect, useEffectEvent, useState, type ReactNode } from 'react';

const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;

/**
 * Takes files that are dropped anywhere on the window; without it the browser would open them in the page's place.
 * While some are held over it, it says what will become of them.
 */
export function DropZone({ says, onDrop }: { says: ReactNode; onDrop: (files: File[], event: DragEvent) => void }) {
  const [isOver, setIsOver] = useState(false);
  const drop = useEffectEvent(onDrop);
  useEffect(() => {
    // Each element that the pointer passes sends a pair of events.
    let depth = 0;
    const enter = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      depth++;
      setIsOver(true);
    };
    const leave = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      depth = Math.max(0, depth - 1);
      if (depth === 0) setIsOver(false);
    };
    const over = (event: DragEvent) => holdsFiles(event) && event.preventDefault();
    const take = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      event.stopPropagation();
      depth = 0;
      setIsOver(false);
      drop([...(event.dataTransfer?.files ?? [])], event);
    };
    // Before the editor, which would put a text file's words where the pointer is.
    const listeners = { dragenter: enter, dragleave: leave, dragover: over, drop: take } as const;
    const all = Object.entries(listeners) as [keyof typeof listeners, (event: DragEvent) => void][];
    for (const [name, listener] of all) window.addEventListener(name, listener, true);
    return () => {
      for (const [name, listener] of all) window.removeEventListener(name, listener, true);
    };
  }, []);
  if (!isOver) return null;
  return (
    <div className="pointer-events-none fixed inset-0 z-[80] flex items-center justify-center bg-top/50">
      <p className="rounded-md border-2 border-dashed border-rubric bg-leaf px-8 py-6 font-serif text-xl shadow-xl">
        {says}
      </p>
    </div>
  );
}
