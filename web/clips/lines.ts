import type { ClipLine, ClipsAnswer } from '@relay/contract/clips';
import { useQueries } from '@tanstack/react-query';
import { clipLinesQuery } from '../api/queries.ts';

/**
 * Lines are fetched in pages; the ones beside those in view come along, so that scrolling meets none that are missing.
 */
export const pageOf = 100;
const beside = 2;

/** The pages that hold the lines from `first` to `last`, and their neighbours. */
export function pagesAround(first: number, last: number, total: number): number[] {
  const from = Math.max(0, Math.floor(first / pageOf) - beside);
  const to = Math.min(Math.ceil(total / pageOf) - 1, Math.floor(last / pageOf) + beside);
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, index) => from + index);
}

/** The lines of the sheet around what is in view, by clip. */
export function useLines(
  production: string,
  sheet: ClipsAnswer | undefined,
  view: { first: number; last: number },
): ReadonlyMap<string, ClipLine> {
  const pages = pagesAround(view.first, view.last, sheet?.ids.length ?? 0);
  const answers = useQueries({
    queries: pages.map((page) =>
      clipLinesQuery(production, sheet?.ids.slice(page * pageOf, (page + 1) * pageOf) ?? []),
    ),
  });
  return new Map(
    [...(sheet?.lines ?? []), ...answers.flatMap((answer) => answer.data ?? [])].map((line) => [line.id, line]),
  );
}
