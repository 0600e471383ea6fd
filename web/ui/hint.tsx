import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';

/** What a sign without words does, shown as soon as it is pointed at or has the focus. */
export function Hint({ says, children }: { says: string; children: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={250}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            sideOffset={5}
            collisionPadding={8}
            className="z-50 max-w-72 rounded-md border border-line bg-raised px-2.5 py-1 text-[12px] break-words text-ink"
          >
            {says}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  );
}
