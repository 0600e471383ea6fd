import { useEffect, useState } from 'react';
import { useAddress } from '../ui/useAddress.ts';
import { lookAsText, lookOf, type ColumnLook } from './columnLook.ts';

const key = 'columns of clips';

/** The look of the sheet's columns: what the address says, else what was chosen before, else `usual`. */
export function useColumnLook(
  columns: readonly string[],
  always: readonly string[],
  usual: string,
): { look: ColumnLook; own: boolean; ownChoice: boolean; change: (look: ColumnLook) => void; asUsual: () => void } {
  const [address, say] = useAddress();
  const said = address.get('columns');
  const [look, setLook] = useState(() => lookOf(said ?? localStorage.getItem(key) ?? usual, columns, always));
  const [seen, setSeen] = useState(said);
  // Another look in the address: somebody's link, or a step back.
  if (said !== seen) {
    setSeen(said);
    if (said !== null && said !== lookAsText(look)) setLook(lookOf(said, columns, always));
  }
  const text = lookAsText(look);
  const own = text !== usual;
  useEffect(() => {
    const timer = setTimeout(() => {
      if (own) localStorage.setItem(key, text);
      else localStorage.removeItem(key);
      say({ columns: own ? text : null });
    }, 250);
    return () => clearTimeout(timer);
  }, [text, own, say]);
  // Moved or drawn wider they are the same columns still.
  const ownChoice = columns.some((name) => look.hidden.has(name) !== lookOf(usual, columns, always).hidden.has(name));
  return { look, own, ownChoice, change: setLook, asUsual: () => setLook(lookOf(usual, columns, always)) };
}
