import { Dialog } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { dialogSheet, dialogVeil } from './dialogLook.ts';
import { Key } from './pieces.tsx';

/** Whether a key press is meant for a field, a dialog or a menu rather than for the page. */
export function isForField(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  // What it closed just now is closed, but the key was for that.
  if (event.defaultPrevented || dialogIsOpen()) return true;
  return (
    target !== null &&
    (target.isContentEditable ||
      ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName) ||
      target.closest('[role="menu"]') !== null)
  );
}

/** Whether a dialog lies over the page: what is behind it hears no keys. */
export function dialogIsOpen(): boolean {
  return document.querySelector(':is([role="dialog"], [role="alertdialog"])[data-state="open"]') !== null;
}

const lettersKey = 'letters as keys';

/** Whether single letters and signs act; who speaks to the machine, or types blindly, turns them off. */
export function lettersAct(): boolean {
  return localStorage.getItem(lettersKey) !== 'off';
}

/** What to call for a key: letters as they are printed, whether Shift or the lock is on or not. */
export function callFor<T>(keys: Readonly<Record<string, T>>, key: string, letters: boolean): T | undefined {
  if (key.length > 1 || key === ' ') return keys[key];
  return letters ? (keys[key] ?? keys[key.toLowerCase()] ?? keys[key.toUpperCase()]) : undefined;
}

/** Whether a press belongs to the button or link that has the focus. */
function isForButton(event: KeyboardEvent): boolean {
  return (
    (event.key === 'Enter' || event.key === ' ') &&
    (event.target as HTMLElement | null)?.closest('button, a, summary, [role="option"]') instanceof Element
  );
}

/** Calls back for plain keys on the page, by the key's name; the list may change from drawing to drawing. */
export function useKeys(keys: Readonly<Record<string, (event: KeyboardEvent) => void>>): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (isForField(event) || isForButton(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const call = callFor(current.current, event.key, lettersAct());
      if (!call) return;
      event.preventDefault();
      call(event);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}

/** Calls back for Ctrl+A (or ⌘A) on the page; in a field it selects what is typed there, as ever. */
export function useSelectAll(selectAll: () => void): void {
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.key !== 'a' || isForField(event)) return;
      event.preventDefault();
      selectAll();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [selectAll]);
}

const list: readonly [string, readonly (readonly [string, string])[]][] = [
  [
    'Everywhere',
    [
      ['Ctrl K', 'Go to a screen or production'],
      ['/', 'Filter'],
      ['Ctrl Z', 'Undo the last change'],
      ['?', 'These keys'],
      ['T', 'Dark or chalk'],
    ],
  ],
  [
    'Clips',
    [
      ['↑ ↓', 'Move'],
      ['Shift ↑ ↓', 'Extend the selection'],
      ['Space', 'Add or take away a clip'],
      ['Ctrl A', 'Select all'],
      ['G', 'Select the group of the clip'],
      ['Esc', 'Select nothing'],
      ['Enter', 'Watch the clip'],
      ['B', 'Onto the bench'],
      ['E', 'Edit identity'],
      ['P', 'Identity from names'],
      ['R', 'Prepare a run of the selection, or of all'],
    ],
  ],
  [
    'Clip',
    [
      ['Space', 'Play or pause'],
      ['J K L', 'Five seconds back, stop, play'],
      ['← →', 'One frame back or on'],
      ['Shift ← →', 'Ten frames'],
      ['1 … 9', 'Listen to one channel'],
      ['0', 'Listen to all'],
      ['Esc', 'Back to the clips'],
    ],
  ],
  [
    'Run',
    [
      ['↑ ↓', 'Move between legs'],
      ['F', 'Put the leg first'],
      ['- +', 'Move it up or down'],
      ['H', 'Hold or release it'],
      ['S', 'Stop it'],
      ['A', 'Retry it'],
      ['L', 'Its log'],
      ['G', 'Speed along the clock'],
      ['C', 'Compare with the original'],
    ],
  ],
  [
    'Bench',
    [
      ['← →', 'One frame back or on'],
      ['Shift ← →', 'Ten frames'],
      ['G', 'Go to a timecode'],
      ['S W D', 'Side by side, wipe, difference'],
      ['B', 'Before or after'],
      ['1 … 5', 'Zoom to fit, 100 to 800 %'],
      ['M', 'Next measurement'],
      ['C', 'Contact sheet'],
      ['[ ]', 'Clip before or next'],
      ['U', 'Undo what was used last'],
      ['Esc', 'Back to the groups'],
    ],
  ],
  [
    'Cabinet',
    [
      ['↑ ↓', 'Move between LUTs'],
      ['N', 'Bring files in'],
    ],
  ],
  [
    'Arrivals',
    [
      ['↑ ↓', 'Move between rolls'],
      ['B', 'Bring a card in'],
      ['V', 'Verify the roll again'],
    ],
  ],
  [
    'Compare',
    [
      ['← →', 'One frame back or on'],
      ['Shift ← →', 'Ten frames'],
      ['Home End', 'First or last frame'],
      ['1 2 3 4', 'Zoom to fit, 100, 200, 400 %'],
    ],
  ],
];

/** Single letters on or off, kept for the next visit. */
function LettersSwitch() {
  const [on, setOn] = useState(lettersAct);
  return (
    <label className="mt-3 flex items-center gap-2 text-dim">
      <input
        type="checkbox"
        checked={on}
        onChange={(event) => {
          localStorage.setItem(lettersKey, event.target.checked ? 'on' : 'off');
          setOn(event.target.checked);
        }}
      />
      Single letters, digits and signs act; without them arrows, Space, Enter, Esc and Ctrl still do
    </label>
  );
}

export function KeysDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className={dialogVeil} />
        <Dialog.Content aria-describedby={undefined} className={`${dialogSheet} w-[640px]`}>
          <Dialog.Title className="text-lg font-semibold">Keys</Dialog.Title>
          <LettersSwitch />
          <div className="mt-4 grid grid-cols-1 gap-6 sm:grid-cols-2">
            {list.map(([place, keys]) => (
              <section key={place}>
                <h3 className="mb-1 font-semibold text-dim">{place}</h3>
                <dl>
                  {keys.map(([key, what]) => (
                    <div key={key} className="flex items-baseline justify-between gap-3 py-0.5">
                      <dt>{what}</dt>
                      <dd>
                        <Key>{key}</Key>
                      </dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
