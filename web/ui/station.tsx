import { useEffect, type ReactNode } from 'react';
import { KeyPlace } from './keyChoice.ts';

interface StationProps {
  /** What the page is called, in the browser's tab and to a screen reader. */
  name: string;
  /** The production's name, where it is in one. */
  within?: string | undefined;
  /** Whether the page writes its own heading of the first level. */
  headed?: boolean;
  children: ReactNode;
}

/** A page with its name: in the tab's title, and as the heading that a screen reader begins with. */
export function Station({ name, within, headed = false, children }: StationProps) {
  useEffect(() => {
    document.title = [name, within, 'Brisk Relay'].filter(Boolean).join(' · ');
  }, [name, within]);
  return (
    <>
      {!headed && <h1 className="sr-only">{name}</h1>}
      <KeyPlace value={name === 'LUT cabinet' ? 'Cabinet' : name}>{children}</KeyPlace>
    </>
  );
}

/** The first thing that Tab reaches: past the track, to what the page is about. */
export function SkipLink() {
  return (
    <a
      href="#sheet"
      className="sr-only focus:not-sr-only focus:absolute focus:top-2 focus:left-2 focus:z-50 focus:rounded-md focus:bg-clay focus:px-3 focus:py-1.5 focus:text-on-clay"
      onClick={(event) => {
        event.preventDefault();
        document.getElementById('sheet')?.focus();
      }}
    >
      Skip to the page
    </a>
  );
}
