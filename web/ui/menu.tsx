import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

/** How lists of things to choose look where they open over the page. */
export const menuSheet = 'z-40 rounded-lg border border-line bg-sheet p-1.5';
export const menuRow =
  'flex cursor-default items-center justify-between gap-3 rounded-md px-2.5 py-1.5 outline-none data-disabled:text-faint data-highlighted:bg-raised';

/** What is done seldom, behind one button. */
export function MoreMenu({ label, children }: { label: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        className="inline-flex h-8 w-9 items-center justify-center rounded-md border border-line hover:bg-raised"
      >
        <Ellipsis className="size-4" aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} collisionPadding={8} className={`${menuSheet} min-w-48`}>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface MenuItemProps {
  off?: boolean;
  onSelect: () => void;
  children: ReactNode;
}

export function MenuItem({ off = false, onSelect, children }: MenuItemProps) {
  return (
    <DropdownMenu.Item disabled={off} onSelect={onSelect} className={menuRow}>
      {children}
    </DropdownMenu.Item>
  );
}
