import { useLocation, useNavigate } from 'react-router';

/** Clips that were selected where the bench was opened from. */
export interface BenchState {
  selection?: string[];
}

/** What the bench was opened with, and the ways from it: to another clip, with the same part in view, and away. */
export function useBenchPlace(production: string, part: string) {
  const go = useNavigate();
  const { state } = useLocation() as { state: BenchState | null };
  return {
    selection: state?.selection ?? [],
    open: (clip: string | null): void => {
      if (clip) void go(`/p/${production}/bench/${clip}${part === 'colour' ? '' : `?part=${part}`}`, { state });
    },
    away: (): void => void go(`/p/${production}/bench`),
  };
}
