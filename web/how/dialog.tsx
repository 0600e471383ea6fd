import Markdown from 'markdown-to-jsx';
import { Dialog, Tabs } from 'radix-ui';
import { useState } from 'react';
import { useLocation } from 'react-router';
import { dialogSheet, dialogVeil } from '../ui/dialogLook.ts';
import { KeyTable } from './keyTable.tsx';
import { howOf } from './texts.ts';

const tabLook =
  'border-b-2 border-transparent px-1 py-1.5 text-dim hover:text-ink data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink';

/** How the station at hand is used, and the keys. */
export function HowDialog({ onClose }: { onClose: () => void }) {
  const { pathname } = useLocation();
  /** The key that waits for another to be pressed, as `place sign`. */
  const [waits, setWaits] = useState<string | null>(null);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className={dialogVeil} />
        <Dialog.Content
          aria-describedby={undefined}
          className={`${dialogSheet} w-[680px]`}
          onEscapeKeyDown={(event) => {
            if (waits === null) return;
            event.preventDefault();
            setWaits(null);
          }}
        >
          <Dialog.Title className="sr-only">How and keys</Dialog.Title>
          <Tabs.Root defaultValue="how">
            <Tabs.List className="mb-4 flex gap-5 border-b border-line">
              <Tabs.Trigger value="how" className={tabLook}>
                How
              </Tabs.Trigger>
              <Tabs.Trigger value="keys" className={tabLook}>
                Keys
              </Tabs.Trigger>
            </Tabs.List>
            <Tabs.Content value="how">
              <article className="max-w-[62ch] [&>div]:flex [&>div]:flex-col [&>div]:gap-3 [&_h2]:text-lg [&_h2]:font-semibold [&_ol]:list-decimal [&_ol]:pl-5 [&_ul]:list-disc [&_ul]:pl-5">
                <Markdown options={{ disableParsingRawHTML: true, overrides: { h1: { component: 'h2' } } }}>
                  {howOf(pathname)}
                </Markdown>
              </article>
            </Tabs.Content>
            <Tabs.Content value="keys">
              <KeyTable waits={waits} onWaits={setWaits} />
            </Tabs.Content>
          </Tabs.Root>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
