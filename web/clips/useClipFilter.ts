import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';

/** The words that clips are filtered by: in the address once typing rests. */
export function useClipFilter() {
  const [address, setAddress] = useSearchParams();
  const filter = address.get('filter') ?? '';
  const [typed, setTyped] = useState(filter);
  useEffect(() => {
    if (typed === filter) return;
    const timer = setTimeout(() => setAddress(typed === '' ? {} : { filter: typed }, { replace: true }), 150);
    return () => clearTimeout(timer);
  }, [typed, filter, setAddress]);
  return { filter, typed, setTyped };
}
