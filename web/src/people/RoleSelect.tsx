import { Check, ChevronDown } from 'lucide-react';
import { Select } from 'radix-ui';
import type { Role } from '../api/client';
import { roleName, roles } from './roles';

/** Chooses one of the roles that can be given. */
export function RoleSelect(props: { label: string; value: Role; onChange: (role: Role) => void }) {
  return (
    <Select.Root value={props.value} onValueChange={(role) => props.onChange(role as Role)}>
      <Select.Trigger aria-label={props.label} className="button h-[33px] w-28 justify-between px-2 py-0">
        <Select.Value>{roleName(props.value)}</Select.Value>
        <ChevronDown className="size-3.5 text-ink-3" />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={4}
          className="z-[70] rounded border border-rule bg-leaf p-1 shadow-lg"
        >
          <Select.Viewport>
            {roles
              .filter((r) => r.value !== 'owner')
              .map((r) => (
                <Select.Item
                  key={r.value}
                  value={r.value}
                  className="flex items-center gap-2 rounded py-1 pr-3 pl-1.5 data-highlighted:bg-paper"
                >
                  <span className="w-4">
                    <Select.ItemIndicator>
                      <Check className="size-3.5 text-moss" />
                    </Select.ItemIndicator>
                  </span>
                  <Select.ItemText>{r.name}</Select.ItemText>
                  <span className="text-[12px] text-ink-2">{r.may}</span>
                </Select.Item>
              ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
