import type { ClipSort } from '@relay/contract/clips';
import { arrivalRows } from '@relay/contract/routes/arrivals';
import { benchRows } from '@relay/contract/routes/bench';
import { cabinetRows } from '@relay/contract/routes/cabinet';
import type { sizesBy } from '@relay/contract/checks';
import { checkRows } from '@relay/contract/routes/checks';
import { clipRows } from '@relay/contract/routes/clips';
import { correctionRows } from '@relay/contract/routes/corrections';
import { cutRows } from '@relay/contract/routes/cuts';
import { swapRows } from '@relay/contract/routes/swaps';
import type { HandoffWish } from '@relay/contract/handoffs';
import { handoffRows } from '@relay/contract/routes/handoffs';
import { identityRows } from '@relay/contract/routes/identity';
import { inletRows } from '@relay/contract/routes/inlets';
import { originalRows } from '@relay/contract/routes/originals';
import { recipeRows } from '@relay/contract/routes/recipes';
import { runRows } from '@relay/contract/routes/runs';
import type { SpaceChoice } from '@relay/contract/space';
import { spaceRows } from '@relay/contract/routes/space';
import { siteRows } from '@relay/contract/routes/site';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { ask, fetchBy } from './client.ts';

/** Every question the pages ask, with the key its answer is kept under. */
export const productionsQuery = queryOptions({
  queryKey: ['productions'],
  queryFn: () => ask(siteRows.productions),
});
export const productionQuery = (id: string) =>
  queryOptions({ queryKey: ['productions', id], queryFn: () => ask(siteRows.production, { production: id }) });
export const siteQuery = queryOptions({ queryKey: ['site'], queryFn: () => ask(siteRows.site) });
export const storesQuery = queryOptions({ queryKey: ['stores'], queryFn: () => ask(siteRows.stores) });
/** Path patterns that are kept by name. */
export const keptPatternsQuery = queryOptions({ queryKey: ['patterns'], queryFn: () => ask(recipeRows.patterns, {}) });
export const recipesQuery = queryOptions({ queryKey: ['recipes'], queryFn: () => ask(recipeRows.recipes) });
export const foldersQuery = (store: string, folder: string) =>
  queryOptions({
    queryKey: ['folders', store, folder],
    queryFn: () => ask(siteRows.folders, { store, query: { folder } }),
    enabled: store !== '',
  });
export const rootsQuery = queryOptions({ queryKey: ['roots'], queryFn: () => ask(siteRows.roots) });
/** Drives among them that something was handed off on. */
export const returnedDrivesQuery = (production: string) =>
  queryOptions({
    queryKey: ['roots', 'returned', production],
    queryFn: () => ask(handoffRows.drives, { production }),
  });
export const rootFoldersQuery = (root: string, folder: string) =>
  queryOptions({
    queryKey: ['folders', 'root', root, folder],
    queryFn: () => ask(siteRows.rootFolders, { query: { root, folder } }),
  });
export const readingsQuery = (production: string) =>
  queryOptions({
    queryKey: ['readings', production],
    queryFn: () => ask(arrivalRows.readings, { production }),
  });
/** Inlets of a production; and one with what it took up. */
export const inletsQuery = (production: string) =>
  queryOptions({ queryKey: ['inlets', production], queryFn: () => ask(inletRows.inlets, { production }) });
export const inletQuery = (inlet: string) =>
  queryOptions({ queryKey: ['inlets', 'one', inlet], queryFn: () => ask(inletRows.inlet, { inlet }) });
/** What may be deleted of a production; what that comes to; what was deleted, asked again while it is under way. */
export const spaceQuery = (production: string, cut: string | null) =>
  queryOptions({
    queryKey: ['space', production, cut],
    queryFn: () => ask(spaceRows.space, { production, query: cut === null ? {} : { cut } }),
    placeholderData: keepPreviousData,
  });
export const spaceEffectQuery = (production: string, choice: SpaceChoice) =>
  queryOptions({
    queryKey: ['space', production, 'effect', choice],
    queryFn: () => ask(spaceRows.effect, { production, body: choice }),
  });
/** Whether a deletion is still under way. */
const isUnderWay = ({ state }: { state: string }): boolean => state === 'waiting' || state === 'removing';
export const removalsQuery = (production: string) =>
  queryOptions({
    queryKey: ['space', production, 'removals'],
    queryFn: () => ask(spaceRows.removals, { production }),
    refetchInterval: ({ state: { data } }) => (data?.some(isUnderWay) ? 1_500 : false),
  });
export const removalQuery = (removal: string) =>
  queryOptions({
    queryKey: ['space', 'removal', removal],
    queryFn: () => ask(spaceRows.removal, { removal }),
    refetchInterval: ({ state: { data } }) => {
      const asks = data && (isUnderWay(data) || data.items.some(({ back }) => back === 'is made'));
      // A long list is not asked for every second.
      return asks ? (data.items.length > 500 ? 6_000 : 1_000) : false;
    },
  });
/** Where a production's originals lie; and what a search for some of them found, asked again until it has. */
export const originalsQuery = (production: string) =>
  queryOptions({ queryKey: ['originals', production], queryFn: () => ask(originalRows.originals, { production }) });
export const foundQuery = (search: string) =>
  queryOptions({
    queryKey: ['originals', 'search', search],
    queryFn: () => ask(originalRows.found, { search }),
    refetchInterval: ({ state: { data } }) => (data?.state === 'waiting' || data?.state === 'looking' ? 700 : false),
  });
export const leftAsideQuery = (production: string) =>
  queryOptions({
    queryKey: ['clips', production, 'left-aside'],
    queryFn: () => ask(arrivalRows.leftAside, { production }),
  });
export const clipsQuery = (production: string, sort: ClipSort, direction: 'up' | 'down', filter: string) =>
  queryOptions({
    queryKey: ['clips', production, sort, direction, filter],
    queryFn: () => ask(clipRows.sheet, { production, query: { sort, direction, filter } }),
    placeholderData: keepPreviousData,
  });
export const clipLinesQuery = (production: string, ids: readonly string[]) =>
  queryOptions({
    queryKey: ['clips', production, 'lines', ids[0], ids.at(-1), ids.length],
    queryFn: () => ask(clipRows.lines, { production, body: { clips: [...ids] } }),
    staleTime: 2_000,
  });
export const clipQuery = (id: string) =>
  queryOptions({ queryKey: ['clips', 'one', id], queryFn: () => ask(clipRows.clip, { clip: id }) });
export const commonQuery = (production: string, ids: readonly string[]) =>
  queryOptions({
    queryKey: ['clips', production, 'common', ids],
    queryFn: () => ask(clipRows.common, { production, body: { clips: [...ids] } }),
    placeholderData: keepPreviousData,
  });
export const commonCorrectionsQuery = (production: string, ids: readonly string[]) =>
  queryOptions({
    queryKey: ['clips', production, 'corrections', ids],
    queryFn: () => ask(correctionRows.common, { production, body: { clips: [...ids] } }),
    placeholderData: keepPreviousData,
  });
export const lookQuery = (id: string) =>
  queryOptions({ queryKey: ['clips', 'look', id], queryFn: () => ask(clipRows.look, { clip: id }), retry: false });
export const filtersQuery = (production: string) =>
  queryOptions({
    queryKey: ['filters', production],
    queryFn: () => ask(identityRows.filters, { production }),
  });
export const reportQuery = (production: string, day: string | null) =>
  queryOptions({
    queryKey: ['clips', production, 'report', day],
    queryFn: () => ask(arrivalRows.report, { production, query: day === null ? {} : { day } }),
    placeholderData: keepPreviousData,
  });
export const rollsQuery = (production: string) =>
  queryOptions({ queryKey: ['rolls', production], queryFn: () => ask(arrivalRows.rolls, { production }) });
export const rollQuery = (id: string) =>
  queryOptions({ queryKey: ['rolls', 'one', id], queryFn: () => ask(arrivalRows.roll, { roll: id }) });
export const bayQuery = queryOptions({ queryKey: ['bay'], queryFn: () => ask(arrivalRows.bay), retry: false });
export const cardQuery = (production: string, store: string, folder: string) =>
  queryOptions({
    queryKey: ['card', production, store, folder],
    queryFn: () => ask(arrivalRows.card, { production, query: { store, folder } }),
    enabled: store !== '',
    gcTime: 0,
    retry: false,
  });
export const runsQuery = (production: string) =>
  queryOptions({ queryKey: ['runs', production], queryFn: () => ask(runRows.runs, { production }) });
/** What was run last in a production. */
export const lastChoiceQuery = (production: string) =>
  queryOptions({ queryKey: ['last-choice', production], queryFn: () => ask(runRows.lastChoice, { production }) });
export const runQuery = (id: string) =>
  queryOptions({ queryKey: ['run', id], queryFn: () => ask(runRows.run, { run: id }) });
export const legQuery = (id: string) =>
  queryOptions({ queryKey: ['leg', id], queryFn: () => ask(runRows.leg, { leg: id }) });
type SizesBy = (typeof sizesBy)[number];
export const checksQuery = (production: string) =>
  queryOptions({
    queryKey: ['outputs', production],
    queryFn: () => ask(checkRows.outputs, { production }),
  });
export const sizesQuery = (production: string, by: SizesBy) =>
  queryOptions({
    queryKey: ['outputs', production, 'sizes', by],
    queryFn: () => ask(checkRows.sizes, { production, query: { by } }),
    placeholderData: (previous) => previous,
  });
export const outputQuery = (id: string) =>
  queryOptions({ queryKey: ['output', id], queryFn: () => ask(checkRows.output, { output: id }) });
export const madeOfClipQuery = (clip: string) =>
  queryOptions({ queryKey: ['outputs', 'of', clip], queryFn: () => ask(checkRows.ofClip, { clip }) });
/** What was measured along an output; asked again and again while it is. */
export const measuringQuery = (output: string) =>
  queryOptions({
    queryKey: ['measuring', output],
    queryFn: () => ask(checkRows.measuring, { output }),
    refetchInterval: ({ state: { data } }) =>
      data?.measuring?.state === 'waiting' || data?.measuring?.state === 'running' ? 1_000 : false,
  });
/** What of a run is to be looked at; asked again while its outputs are measured. */
export const checkSheetQuery = (run: string) =>
  queryOptions({
    queryKey: ['check sheet', run],
    queryFn: () => ask(checkRows.sheet, { run }),
    refetchInterval: ({ state: { data } }) => ((data?.measuring ?? 0) > 0 ? 2_000 : false),
  });
export const contactSheetQuery = (run: string, deliverable: string | null) =>
  queryOptions({
    queryKey: ['check sheet', run, 'contact', deliverable],
    queryFn: () => ask(checkRows.contact, { run, query: deliverable === null ? {} : { deliverable } }),
    placeholderData: (previous) => previous,
  });
export const comparisonQuery = (output: string, against: string) =>
  queryOptions({
    queryKey: ['comparison', output, against],
    queryFn: () => ask(checkRows.comparison, { output, query: { against } }),
    placeholderData: (previous) => previous,
  });
export const handoffsQuery = (production: string) =>
  queryOptions({
    queryKey: ['handoffs', production],
    queryFn: () => ask(handoffRows.handoffs, { production }),
  });
export const handoffChoicesQuery = (production: string) =>
  queryOptions({
    queryKey: ['handoffs', production, 'choices'],
    queryFn: () => ask(handoffRows.choices, { production }),
  });
/** What a hand-off would come to; what was found before stands until it is worked out anew. */
export const handoffCheckQuery = (production: string, wish: HandoffWish) =>
  queryOptions({
    queryKey: ['handoffs', production, 'check', wish],
    queryFn: ({ signal }) => ask(handoffRows.check, { production, body: wish, signal }),
    placeholderData: (previous) => previous,
  });
export const handedQuery = (production: string) =>
  queryOptions({
    queryKey: ['handoffs', production, 'handed'],
    queryFn: () => ask(handoffRows.handed, { production }),
  });
export const oneHandedQuery = (handoff: string) =>
  queryOptions({ queryKey: ['handoffs', 'one', handoff], queryFn: () => ask(handoffRows.one, { handoff }) });
export const holdingsQuery = (production: string) =>
  queryOptions({
    queryKey: ['handoffs', production, 'holdings'],
    queryFn: () => ask(handoffRows.holdings, { production }),
  });
export const lutsQuery = queryOptions({ queryKey: ['luts'], queryFn: () => ask(cabinetRows.luts) });
export const lutQuery = (hash: string) =>
  queryOptions({ queryKey: ['luts', hash], queryFn: () => ask(cabinetRows.lut, { hash }), enabled: hash !== '' });
/** A LUT's bytes as text; those of a hash never change. */
export const lutTextQuery = (hash: string) =>
  queryOptions({
    queryKey: ['lut-text', hash],
    staleTime: Infinity,
    queryFn: async () => {
      const response = await fetchBy(cabinetRows.file, { hash });
      return {
        text: await response.text(),
        fileName: /filename="?([^"]+)"?/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'lut.cube',
      };
    },
  });
export const benchQuery = (clip: string) =>
  queryOptions({
    queryKey: ['clips', 'bench', clip],
    queryFn: () => ask(benchRows.bench, { clip }),
    placeholderData: keepPreviousData,
  });
export const benchGroupsQuery = (production: string) =>
  queryOptions({
    queryKey: ['clips', production, 'bench'],
    queryFn: () => ask(benchRows.groups, { production }),
  });
export const chainedQuery = (production: string, scope: 'roll' | 'group' | 'production', key: string) =>
  queryOptions({
    queryKey: ['clips', production, 'chained', scope, key],
    queryFn: () => ask(benchRows.chained, { production, query: scope === 'production' ? { scope } : { scope, key } }),
  });
/** Cuts that came back; and a version of one tried against the originals. */
export const cutsQuery = (production: string) =>
  queryOptions({ queryKey: ['cuts', production], queryFn: () => ask(cutRows.cuts, { production }) });
export const rehearsalQuery = (version: string) =>
  queryOptions({ queryKey: ['rehearsal', version], queryFn: () => ask(cutRows.rehearsal, { version }) });
export const cutChangesQuery = (version: string) =>
  queryOptions({ queryKey: ['cuts', 'changes', version], queryFn: () => ask(cutRows.changes, { version }) });
const madeOf = (deliverable: string | undefined) => (deliverable === undefined ? {} : { deliverable });
export const swapQuery = (run: string, deliverable: string | undefined) =>
  queryOptions({
    queryKey: ['swap', run, deliverable ?? null],
    queryFn: () => ask(swapRows.swap, { run, query: madeOf(deliverable) }),
  });
/** Asked for by hand: it opens a picture of every event. */
export const swapProofQuery = (run: string, deliverable: string | undefined) =>
  queryOptions({
    queryKey: ['swap-proof', run, deliverable ?? null],
    queryFn: ({ signal }) => ask(swapRows.proof, { run, query: madeOf(deliverable), signal }),
    enabled: false,
    retry: false,
  });
