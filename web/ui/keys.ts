import { useContext, useEffect, useRef } from 'react';
import { changedKeys, KeyPlace, type Changed } from './keyChoice.ts';

/** Whether a key press is meant for a field, a dialog or a menu rather than for the page. */
export function isForField(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  // What it closed just now is closed, but the key was for that.
  if (event.defaultPrevented || dialogIsOpen()) return true;
  if (target instanceof HTMLInputElement && target.type === 'range') return slides.test(event.key);
  return (
    target !== null &&
    (target.isContentEditable ||
      ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName) ||
      target.closest('[role="menu"]') !== null)
  );
}

/** What a slider is moved by; all else is for its page. */
const slides = /^(Arrow\w+|Page\w+|Home|End)$/;

/** Whether a dialog lies over the page: what is behind it hears no keys. */
export function dialogIsOpen(): boolean {
  return document.querySelector(':is([role="dialog"], [role="alertdialog"])[data-state="open"]') !== null;
}

const lettersKey = 'letters as keys';

/** Whether single letters and signs act; who speaks to the machine, or types blindly, turns them off. */
export function lettersAct(): boolean {
  return localStorage.getItem(lettersKey) !== 'off';
}

/** Turns single letters and signs on or off, for the next visits too. */
export function setLettersAct(on: boolean): void {
  localStorage.setItem(lettersKey, on ? 'on' : 'off');
}

/**
 * What to call for a key: letters as they are printed, whether Shift or the lock is on or not, and under the keys that
 * somebody chose instead.
 */
export function callFor<T>(
  keys: Readonly<Record<string, T>>,
  key: string,
  letters: boolean,
  changed: Changed = {},
): T | undefined {
  if (key.length > 1 || key === ' ') return keys[key];
  if (!letters) return undefined;
  const now = (name: string): string => changed[name.toLowerCase()] ?? name;
  const names = Object.keys(keys).filter((name) => name.length === 1);
  const found =
    names.find((name) => now(name) === key) ?? names.find((name) => now(name).toLowerCase() === key.toLowerCase());
  return found === undefined ? undefined : keys[found];
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
  const place = useContext(KeyPlace);
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (isForField(event) || isForButton(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const call = callFor(current.current, event.key, lettersAct(), changedKeys()[place]);
      if (!call) return;
      event.preventDefault();
      call(event);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [place]);
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
