import { createContext, useContext, useSyncExternalStore } from 'react';

/** Keys that somebody chose, in one place: what is printed in the list → what is pressed instead, small letters. */
export type Changed = Readonly<Record<string, string>>;

/** The place whose keys act, as the list of keys calls it. */
export const KeyPlace = createContext('Everywhere');

const key = 'keys chosen';
/** Where a page is drawn without a browser, as tests do. */
const none: Readonly<Record<string, Changed>> = {};
const heard = new Set<() => void>();
let read: { text: string; all: Readonly<Record<string, Changed>> } = { text: '{}', all: {} };

function isChanged(value: unknown): value is Changed {
  return (
    typeof value === 'object' &&
    value !== null &&
    Object.values(value).every((one) => typeof one === 'string' && one.length === 1)
  );
}

/** What a kept text says; nothing where it says no such thing. */
export function changedOf(text: string): Readonly<Record<string, Changed>> {
  try {
    const said: unknown = JSON.parse(text);
    return typeof said === 'object' && said !== null && Object.values(said).every(isChanged)
      ? (said as Record<string, Changed>)
      : {};
  } catch {
    return {};
  }
}

/** Keys that were chosen, by place. */
export function changedKeys(): Readonly<Record<string, Changed>> {
  const text = localStorage.getItem(key) ?? '{}';
  if (text !== read.text) read = { text, all: changedOf(text) };
  return read.all;
}

/** Has a key act under another, or under its own again for null. */
export function changeKey(place: string, sign: string, now: string | null): void {
  const others = Object.fromEntries(
    Object.entries(changedKeys()[place] ?? {}).filter(([printed]) => printed !== sign.toLowerCase()),
  );
  const changed = now === null || now === sign.toLowerCase() ? others : { ...others, [sign.toLowerCase()]: now };
  localStorage.setItem(key, JSON.stringify({ ...changedKeys(), [place]: changed }));
  for (const hear of heard) hear();
}

export function forgetChangedKeys(): void {
  localStorage.removeItem(key);
  for (const hear of heard) hear();
}

/** Keys by place and what they do, of which single signs can be changed. */
type List = readonly (readonly [string, readonly (readonly [string, string])[]])[];

/** What a key does already where it would act: in its place, and everywhere; null where it is free. */
export function takenBy(
  list: List,
  changed: Readonly<Record<string, Changed>>,
  place: string,
  sign: string,
  now: string,
): string | null {
  for (const [where, keys] of list) {
    if (where !== place && where !== 'Everywhere' && place !== 'Everywhere') continue;
    for (const [printed, what] of keys) {
      if (where === place && printed === sign) continue;
      const signs = printed.length === 1 ? [changed[where]?.[printed.toLowerCase()] ?? printed] : signsOf(printed);
      if (signs.some((one) => one.toLowerCase() === now.toLowerCase())) return what;
    }
  }
  return null;
}

/** Signs of an entry of several: `J K L`, `1 … 9`. */
function signsOf(printed: string): string[] {
  if (/^\d … \d$/.test(printed))
    return Array.from({ length: Number(printed.at(-1)) - Number(printed[0]) + 1 }, (_, index) =>
      String(Number(printed[0]) + index),
    );
  return printed.startsWith('Ctrl') ? [] : printed.split(' ').filter((one) => one.length === 1);
}

/** Keys that were chosen, as they change. */
export function useChangedKeys(): Readonly<Record<string, Changed>> {
  return useSyncExternalStore(
    (hear) => {
      heard.add(hear);
      return () => heard.delete(hear);
    },
    changedKeys,
    () => none,
  );
}

/** What a printed key is here and now: another where somebody chose one. */
export function useKeyNow(printed: string): string {
  const place = useContext(KeyPlace);
  const all = useChangedKeys();
  return (all[place]?.[printed.toLowerCase()] ?? printed).toUpperCase();
}
