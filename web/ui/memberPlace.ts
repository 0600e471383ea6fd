import type { StoreAnswer } from '@relay/contract/site';
import { systemOf, systemPath, type MemberSystem } from '@relay/core/naming/systemPath';
import { useState } from 'react';

const key = 'relay-system';

/** Which system paths are written for: as somebody chose on this machine, else as its browser says. */
export function useMemberSystem(): [MemberSystem, (system: MemberSystem) => void] {
  const [system, setSystem] = useState<MemberSystem>(
    () => (localStorage.getItem(key) as MemberSystem | null) ?? systemOf(navigator.userAgent),
  );
  return [
    system,
    (next) => {
      localStorage.setItem(key, next);
      setSystem(next);
    },
  ];
}

/** Where something of a run lies: a path below the place of a deliverable, or below the run's own without one. */
export type PlaceOf = (path: string, deliverable?: string) => string;

/** A place on a store as that system writes it; as the server does where nobody said how the store is reached there. */
export function memberPlace(
  store: StoreAnswer | undefined,
  fallback: string,
  path: string,
  system: MemberSystem,
): string {
  const root = store?.elsewhere[system];
  return root ? systemPath(root, path, system) : systemPath(store?.path ?? fallback, path, 'linux');
}
