import { useState } from 'react';
import { changeKey, forgetChangedKeys, takenBy, useChangedKeys } from '../ui/keyChoice.ts';
import { lettersAct, setLettersAct } from '../ui/keys.ts';
import { Button } from '../ui/pieces.tsx';
import { keyList } from './keyList.ts';

interface KeyTableProps {
  /** The key that waits for another to be pressed, as `place sign`. */
  waits: string | null;
  onWaits: (key: string | null) => void;
}

const keyLook = 'rounded border border-line px-1 font-mono text-[11px] leading-4 text-dim';

/** Every key by its place; single signs can be put elsewhere. */
export function KeyTable({ waits, onWaits }: KeyTableProps) {
  const changed = useChangedKeys();
  const [refused, setRefused] = useState<string | null>(null);
  const any = Object.values(changed).some((one) => Object.keys(one).length > 0);
  const choose = (place: string, sign: string, now: string): void => {
    const taken = takenBy(keyList, changed, place, sign, now);
    setRefused(taken === null ? null : `${now.toUpperCase()} is taken: ${taken}`);
    if (taken !== null) return;
    changeKey(place, sign, now.toLowerCase());
    onWaits(null);
  };
  return (
    <>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <LettersSwitch />
        <Button disabled={!any} onClick={forgetChangedKeys}>
          As printed
        </Button>
      </div>
      <p role="status" className="mt-2 min-h-5 text-dim">
        {refused ?? (waits === null ? 'Press a framed letter to put it elsewhere.' : 'Press the key that it shall be.')}
      </p>
      <div className="mt-2 grid grid-cols-1 gap-6 sm:grid-cols-2">
        {keyList.map(([place, keys]) => (
          <section key={place}>
            <h3 className="mb-1 font-semibold text-dim">{place}</h3>
            <dl>
              {keys.map(([sign, what]) => (
                <div key={sign} className="flex items-baseline justify-between gap-3 py-0.5">
                  <dt>{what}</dt>
                  <dd>
                    {sign.length === 1 && sign !== '?' ? (
                      <button
                        type="button"
                        aria-label={`${what}: ${(changed[place]?.[sign.toLowerCase()] ?? sign).toUpperCase()}. Change`}
                        aria-pressed={waits === `${place} ${sign}`}
                        className={`${keyLook} hover:text-ink aria-pressed:border-sky aria-pressed:text-ink`}
                        onClick={() => {
                          setRefused(null);
                          onWaits(`${place} ${sign}`);
                        }}
                        onKeyDown={(event) => {
                          const { key, ctrlKey, metaKey, altKey } = event;
                          if (waits !== `${place} ${sign}` || ctrlKey || metaKey || altKey) return;
                          if (key.length !== 1 || key === ' ') return;
                          event.preventDefault();
                          choose(place, sign, key);
                        }}
                        onBlur={() => {
                          if (waits === `${place} ${sign}`) onWaits(null);
                        }}
                      >
                        {waits === `${place} ${sign}`
                          ? '…'
                          : (changed[place]?.[sign.toLowerCase()] ?? sign).toUpperCase()}
                      </button>
                    ) : (
                      <kbd className="font-mono text-[11px] text-dim">{sign}</kbd>
                    )}
                  </dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </>
  );
}

/** Single letters on or off, kept for the next visit. */
function LettersSwitch() {
  const [on, setOn] = useState(lettersAct);
  return (
    <label className="flex max-w-[48ch] items-center gap-2 text-dim">
      <input
        type="checkbox"
        checked={on}
        onChange={(event) => {
          setLettersAct(event.target.checked);
          setOn(event.target.checked);
        }}
      />
      Single letters, digits and signs act; without them arrows, Space, Enter, Esc and Ctrl still do
    </label>
  );
}
