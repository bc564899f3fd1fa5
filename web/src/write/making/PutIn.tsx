import { ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useRef } from 'react';
import { written } from '../../ui/keyNames';
import { makes, type MakeKind } from './makes';

/** What can be put in at the cursor with help. */
export function PutIn({ onMake }: { onMake: (kind: MakeKind) => void }) {
  const chosen = useRef<MakeKind | null>(null);
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="flex shrink-0 items-center gap-0.5 rounded px-1.5 py-0.5 text-ink-2 hover:bg-paper">
        Put in <ChevronDown className="size-3.5" aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-[60] min-w-56 rounded border border-rule bg-leaf p-1 shadow-lg"
          onCloseAutoFocus={(event) => {
            // Once the menu is gone, so that the focus comes back to the text afterwards.
            if (!chosen.current) return;
            event.preventDefault();
            onMake(chosen.current);
            chosen.current = null;
          }}
        >
          {makes.map(({ kind, name, key }) => (
            <DropdownMenu.Item
              key={kind}
              className="flex items-baseline justify-between gap-4 rounded px-2 py-1 data-highlighted:bg-paper"
              onSelect={() => (chosen.current = kind)}
            >
              {name}
              {key && <kbd>{written(key)}</kbd>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
