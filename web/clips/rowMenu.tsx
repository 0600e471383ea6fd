import { ContextMenu } from 'radix-ui';
import { menuRow, menuSheet } from '../ui/menu.tsx';
import { Key } from '../ui/pieces.tsx';
import { plural } from '../ui/format.ts';
import type { ReactNode } from 'react';

/** What can be done with clips from where the pointer is: what the docket offers. */
export interface RowMenuProps {
  /** How many are selected. */
  selected: number;
  /** Whether any of them has a picture. */
  pictured: boolean;
  onRun: () => void;
  onWatch: () => void;
  onBench: () => void;
  onPattern: () => void;
  onGroup: () => void;
  onCopyPath: () => void;
  onNothing: () => void;
  /** What is pressed, as it opens: the clip below the pointer, or null for the place of the keyboard. */
  onOpen: (clip: string | null) => boolean;
  children: ReactNode;
}

/** The menu of the sheet's rows, by the other button of the mouse or the menu key. */
export function RowMenu({ children, onOpen, ...offers }: RowMenuProps) {
  const { selected, pictured } = offers;
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger
        asChild
        onContextMenu={(event) => {
          const row = (event.target as HTMLElement).closest<HTMLElement>('[data-clip]');
          if (!onOpen(row?.dataset.clip ?? null)) event.preventDefault();
        }}
      >
        <div className="flex min-h-0 flex-1 flex-col">{children}</div>
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content aria-label={plural(selected, 'clip')} collisionPadding={8} className={`${menuSheet} w-64`}>
          <ContextMenu.Label className="px-2.5 py-1 text-dim">{plural(selected, 'clip')}</ContextMenu.Label>
          <Item onSelect={offers.onRun} sign="R">
            Run {plural(selected, 'clip')}…
          </Item>
          <Item onSelect={offers.onWatch} sign="Enter" off={selected !== 1}>
            Watch
          </Item>
          <Item onSelect={offers.onBench} sign="B" off={!pictured}>
            Onto the bench
          </Item>
          <Item onSelect={offers.onPattern} sign="P">
            Identity from names…
          </Item>
          <ContextMenu.Separator className="my-1 h-px bg-line" />
          <Item onSelect={offers.onGroup} sign="G">
            Select its group
          </Item>
          <Item onSelect={offers.onNothing} sign="Esc">
            Select nothing
          </Item>
          <Item onSelect={offers.onCopyPath} off={selected !== 1}>
            Copy its path
          </Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

interface ItemProps {
  onSelect: () => void;
  sign?: string;
  off?: boolean;
  children: ReactNode;
}

function Item({ onSelect, sign, off = false, children }: ItemProps) {
  return (
    <ContextMenu.Item disabled={off} onSelect={onSelect} className={menuRow}>
      <span>{children}</span>
      {sign && <Key>{sign}</Key>}
    </ContextMenu.Item>
  );
}
