import { LampDesk } from 'lucide-react';
import { useState } from 'react';
import { LooksDialog } from './LooksDialog';

/** Opens what a person chooses of looks. */
export function LooksButton({ look }: { look: string }) {
  const [isOpen, setIsOpen] = useState(false);
  return (
    <>
      <button
        aria-label="How it looks to you"
        title="How it looks to you: light, type, spelling"
        className={`shrink-0 rounded p-1 ${look}`}
        onClick={() => setIsOpen(true)}
      >
        <LampDesk className="size-4" aria-hidden />
      </button>
      {isOpen && <LooksDialog onClose={() => setIsOpen(false)} />}
    </>
  );
}
