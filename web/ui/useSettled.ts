import { useEffect, useState } from 'react';

/** A value once it has stood still for a moment, so that what is typed is not asked about letter by letter. Values are held against each other as JSON. */
export function useSettled<T>(value: T, ms = 250): T {
  const [settled, setSettled] = useState(value);
  const text = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(JSON.parse(text) as T), ms);
    return () => clearTimeout(timer);
  }, [text, ms]);
  return settled;
}
