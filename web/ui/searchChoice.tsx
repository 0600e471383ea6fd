import { Command } from 'cmdk';
import { Check, ChevronsUpDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { menuSheet } from './menu.tsx';

/** One thing of a long list. */
export interface SearchOption {
  value: string;
  name: string;
  /** What tells it from others, shown behind its name and found by it too. */
  note?: string;
}

export interface SearchGroup {
  /** What stands above it; nothing for the first. */
  title?: string;
  options: readonly SearchOption[];
  /** It is too long to be shown before something is typed. */
  onlyFound?: boolean;
}

/** How well an option fits what is typed: it holds every word of it, in any order, and best begins with it. */
function fit(option: string, typed: string): number {
  const [text, wanted] = [option.toLowerCase(), typed.trim().toLowerCase()];
  if (!wanted.split(' ').every((word) => text.includes(word))) return 0;
  return text.startsWith(wanted) ? 1 : 0.5;
}

interface SearchChoiceProps {
  label: string;
  /** What is chosen, as it is shown; what to do where nothing is. */
  shown: string;
  value: string | null;
  groups: readonly SearchGroup[];
  /** What is said where nothing is found. */
  nothing: string;
  className?: string;
  onChoose: (value: string) => void;
}

/** A choice from a long list: typed, or by the arrows. */
export function SearchChoice(props: SearchChoiceProps) {
  const { label, shown, value, groups, nothing, className = '', onChoose } = props;
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const change = (wanted: boolean): void => {
    setOpen(wanted);
    setTyped('');
  };
  return (
    <Popover.Root open={open} onOpenChange={change}>
      <Popover.Trigger
        aria-label={`${label}: ${shown}`}
        className={`flex h-8 w-full min-w-0 items-center justify-between gap-2 rounded-md border border-line bg-ground px-2.5 text-left text-ink ${className}`}
      >
        <span className="truncate">{shown}</span>
        <ChevronsUpDown className="size-3.5 shrink-0 text-dim" aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label}
          align="start"
          sideOffset={4}
          collisionPadding={8}
          className={`${menuSheet} w-80 max-w-[94vw]`}
        >
          <Command label={label} filter={fit} onKeyDown={(event) => event.stopPropagation()}>
            <Command.Input
              value={typed}
              onValueChange={setTyped}
              placeholder="Type to find"
              className="mb-1 h-8 w-full rounded-md border border-line bg-ground px-2.5 text-ink placeholder:text-faint"
            />
            <Command.List className="max-h-72 overflow-auto">
              <Command.Empty className="px-2.5 py-2 text-dim">{nothing}</Command.Empty>
              {groups
                .filter(({ onlyFound, options }) => options.length > 0 && (!onlyFound || typed.trim() !== ''))
                .map(({ title = '', options }) => (
                  <Command.Group
                    key={title}
                    heading={title}
                    className="[&_[cmdk-group-heading]]:px-2.5 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-dim"
                  >
                    {options.map((option) => (
                      <Command.Item
                        key={option.value}
                        value={`${option.name} ${option.note ?? ''} ${option.value}`}
                        onSelect={() => {
                          change(false);
                          onChoose(option.value);
                        }}
                        className="flex cursor-default items-baseline gap-2 rounded-md px-2.5 py-1.5 data-[selected=true]:bg-raised"
                      >
                        <span className="min-w-0 break-words">{option.name}</span>
                        {option.note && <span className="min-w-0 break-words text-dim">{option.note}</span>}
                        {option.value === value && (
                          <Check className="ml-auto size-3.5 shrink-0 self-center" aria-label="chosen" />
                        )}
                      </Command.Item>
                    ))}
                  </Command.Group>
                ))}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
