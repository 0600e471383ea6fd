import { X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { menuSheet } from './menu.tsx';
import { Button, inputLook } from './pieces.tsx';

/** Something that is kept under a name. */
export interface KeptThing {
  id: string;
  name: string;
  /** What it is, in its own writing. */
  note: string;
}

interface KeptMenuProps {
  label: string;
  /** What opens it. */
  trigger: ReactNode;
  align: 'start' | 'end';
  kept: readonly KeptThing[];
  onChoose: (id: string) => void;
  onForget: (id: string) => void;
  /** How what stands there now is kept; null while it cannot be. */
  keeps: { label: string; placeholder: string; busy: boolean; keep: (name: string, done: () => void) => void } | null;
  /** What else can be chosen; it is told how the menu is closed. */
  more?: (close: () => void) => ReactNode;
}

/** Things that are kept by name: one is taken, one is forgotten, or what stands there now is kept. */
export function KeptMenu({ label, trigger, align, kept, onChoose, onForget, keeps, more }: KeptMenuProps) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const close = (): void => setOpen(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label}
          align={align}
          sideOffset={6}
          collisionPadding={8}
          className={`${menuSheet} flex max-h-[70vh] w-80 max-w-[94vw] flex-col`}
        >
          <ul aria-label={label} className="min-h-0 overflow-auto">
            {kept.map((one) => (
              <li key={one.id} className="flex items-center">
                <button
                  type="button"
                  onClick={() => {
                    onChoose(one.id);
                    close();
                  }}
                  className="min-w-0 flex-1 rounded-md px-2 py-1.5 text-left hover:bg-raised"
                >
                  <span className="block break-words">{one.name}</span>
                  <span className="block font-mono text-[11px] break-all text-faint">{one.note}</span>
                </button>
                <button
                  type="button"
                  aria-label={`Forget ${one.name}`}
                  onClick={() => onForget(one.id)}
                  className="rounded p-1 text-faint hover:text-ink"
                >
                  <X className="size-3.5" aria-hidden />
                </button>
              </li>
            ))}
            {kept.length > 0 && more && <li aria-hidden className="my-1 border-t border-line" />}
            {more?.(close)}
          </ul>
          {keeps && (
            <form
              className="mt-2 flex gap-2 border-t border-line pt-2"
              onSubmit={(event) => {
                event.preventDefault();
                if (name.trim() !== '') keeps.keep(name, () => setName(''));
              }}
            >
              <input
                aria-label={keeps.label}
                placeholder={keeps.placeholder}
                className={inputLook}
                value={name}
                onChange={({ target }) => setName(target.value)}
                maxLength={60}
              />
              <Button type="submit" disabled={name.trim() === '' || keeps.busy}>
                Keep
              </Button>
            </form>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
