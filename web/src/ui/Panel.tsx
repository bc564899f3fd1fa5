import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { useReturnFocus } from './useReturnFocus';

/**
 * A dialog over the desk: its title, what it is about, and a cross where there is no button that closes it.
 * Escape, the cross and a click beside it close it, unless it is busy.
 */
export function Panel(props: {
  title: string;
  about?: string;
  /** Width and, where it may grow long, how its height is kept. */
  className: string;
  cross?: boolean;
  busy?: boolean;
  onClose: () => void;
  children: ReactNode;
}) {
  const returnFocus = useReturnFocus();
  return (
    <Dialog.Root open onOpenChange={(open) => !open && !props.busy && props.onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="overlay" />
        <Dialog.Content
          className={`dialog ${props.className}`}
          onCloseAutoFocus={returnFocus}
          {...(props.about ? {} : { 'aria-describedby': undefined })}
        >
          <div className="flex items-start justify-between">
            <Dialog.Title className="font-serif text-xl">{props.title}</Dialog.Title>
            {props.cross && (
              <Dialog.Close aria-label="Close" className="rounded p-1 text-ink-2 hover:bg-paper">
                <X className="size-4" />
              </Dialog.Close>
            )}
          </div>
          {props.about && <Dialog.Description className="mt-1 text-ink-2">{props.about}</Dialog.Description>}
          {props.children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
