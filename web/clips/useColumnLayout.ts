import { useEffect, useState } from 'react';
import { useAddress } from '../ui/useAddress.ts';
import { layoutAsText, layoutOf, type ColumnLayout } from './columnLayout.ts';

const key = 'columns of clips';

/** The layout of the sheet's columns: what the address says, else what was chosen before, else `usual`. */
export function useColumnLayout(
  columns: readonly string[],
  always: readonly string[],
  usual: string,
): {
  layout: ColumnLayout;
  own: boolean;
  ownChoice: boolean;
  change: (layout: ColumnLayout) => void;
  asUsual: () => void;
} {
  const [address, say] = useAddress();
  const said = address.get('columns');
  const [layout, setLayout] = useState(() => layoutOf(said ?? localStorage.getItem(key) ?? usual, columns, always));
  const [seen, setSeen] = useState(said);
  // Another layout in the address: somebody's link, or a step back.
  if (said !== seen) {
    setSeen(said);
    if (said !== null && said !== layoutAsText(layout)) setLayout(layoutOf(said, columns, always));
  }
  const text = layoutAsText(layout);
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
  const ownChoice = columns.some(
    (name) => layout.hidden.has(name) !== layoutOf(usual, columns, always).hidden.has(name),
  );
  return { layout, own, ownChoice, change: setLayout, asUsual: () => setLayout(layoutOf(usual, columns, always)) };
}
