import { MoreVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

/** The three dots beside a thing, and what can be done with it. */
export function MoreMenu(props: { of: string; className?: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`More for ${props.of}`}
        className={`rounded p-1 text-ink-3 hover:text-ink ${props.className ?? ''}`}
      >
        <MoreVertical className="size-4" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-[60] min-w-40 rounded border border-rule bg-leaf p-1 shadow-lg">
          {props.children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** How an act of a menu looks. */
export const menuItem = 'block rounded px-2 py-1 data-highlighted:bg-paper';

/** One act of such a menu; what takes something away stands in red. */
export function MenuItem(props: { isGrave?: boolean; onSelect: () => void; children: ReactNode }) {
  return (
    <DropdownMenu.Item className={`${menuItem} ${props.isGrave ? 'text-rubric' : ''}`} onSelect={props.onSelect}>
      {props.children}
    </DropdownMenu.Item>
  );
}

/** A download in such a menu. */
export function MenuDownload(props: { href: string; children: ReactNode }) {
  return (
    <DropdownMenu.Item asChild className={menuItem}>
      <a href={props.href} download>
        {props.children}
      </a>
    </DropdownMenu.Item>
  );
}
