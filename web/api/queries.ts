import type {
  ChecksAnswer,
  FoldersAnswer,
  HandoffLine,
  LeftAsideLine,
  LegAnswer,
  OutputAnswer,
  ProductionAnswer,
  ReadingAnswer,
  RecipeAnswer,
  RunAnswer,
  RunLine,
  SiteAnswer,
  StoreAnswer,
} from '@relay/contract/api';
import type { BayAnswer, CardAnswer, RollAnswer, RollLine } from '@relay/contract/arrivals';
import type {
  ClipAnswer,
  ClipLine,
  ClipsAnswer,
  ClipSort,
  CommonAnswer,
  FilterAnswer,
  LookAnswer,
  ReportAnswer,
} from '@relay/contract/clips';
import type { BenchAnswer, BenchGroup, ChainedClip } from '@relay/contract/bench';
import type { LutAnswer, LutLine } from '@relay/contract/colour';
import type { CommonCorrections } from '@relay/contract/corrections';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { get, post } from './client.ts';

/** Every question the pages ask, with the key its answer is kept under. */
export const productionsQuery = queryOptions({
  queryKey: ['productions'],
  queryFn: () => get<ProductionAnswer[]>('/productions'),
});
export const productionQuery = (id: string) =>
  queryOptions({ queryKey: ['productions', id], queryFn: () => get<ProductionAnswer>(`/productions/${id}`) });
export const siteQuery = queryOptions({ queryKey: ['site'], queryFn: () => get<SiteAnswer>('/site') });
export const storesQuery = queryOptions({ queryKey: ['stores'], queryFn: () => get<StoreAnswer[]>('/stores') });
export const recipesQuery = queryOptions({ queryKey: ['recipes'], queryFn: () => get<RecipeAnswer[]>('/recipes') });
export const foldersQuery = (store: string, folder: string) =>
  queryOptions({
    queryKey: ['folders', store, folder],
    queryFn: () => get<FoldersAnswer>(`/stores/${store}/folders?folder=${encodeURIComponent(folder)}`),
    enabled: store !== '',
  });
export const readingsQuery = (production: string) =>
  queryOptions({
    queryKey: ['readings', production],
    queryFn: () => get<ReadingAnswer[]>(`/productions/${production}/readings`),
  });
export const leftAsideQuery = (production: string) =>
  queryOptions({
    queryKey: ['clips', production, 'left-aside'],
    queryFn: () => get<LeftAsideLine[]>(`/productions/${production}/left-aside`),
  });
export const clipsQuery = (production: string, sort: ClipSort, direction: 'up' | 'down', filter: string) =>
  queryOptions({
    queryKey: ['clips', production, sort, direction, filter],
    queryFn: () =>
      get<ClipsAnswer>(
        `/productions/${production}/clips?sort=${sort}&direction=${direction}&filter=${encodeURIComponent(filter)}`,
      ),
    placeholderData: keepPreviousData,
  });
export const clipLinesQuery = (production: string, ids: readonly string[]) =>
  queryOptions({
    queryKey: ['clips', production, 'lines', ids[0], ids.at(-1), ids.length],
    queryFn: () => post<ClipLine[]>(`/productions/${production}/clips/lines`, { clips: ids }),
    staleTime: 2_000,
  });
export const clipQuery = (id: string) =>
  queryOptions({ queryKey: ['clips', 'one', id], queryFn: () => get<ClipAnswer>(`/clips/${id}`) });
export const commonQuery = (production: string, ids: readonly string[]) =>
  queryOptions({
    queryKey: ['clips', production, 'common', ids],
    queryFn: () => post<CommonAnswer>(`/productions/${production}/clips/common`, { clips: ids }),
    placeholderData: keepPreviousData,
  });
export const commonCorrectionsQuery = (production: string, ids: readonly string[]) =>
  queryOptions({
    queryKey: ['clips', production, 'corrections', ids],
    queryFn: () => post<CommonCorrections>(`/productions/${production}/corrections/common`, { clips: ids }),
    placeholderData: keepPreviousData,
  });
export const lookQuery = (id: string) =>
  queryOptions({ queryKey: ['clips', 'look', id], queryFn: () => get<LookAnswer>(`/clips/${id}/look`), retry: false });
export const filtersQuery = (production: string) =>
  queryOptions({
    queryKey: ['filters', production],
    queryFn: () => get<FilterAnswer[]>(`/productions/${production}/filters`),
  });
export const reportQuery = (production: string, day: string | null) =>
  queryOptions({
    queryKey: ['clips', production, 'report', day],
    queryFn: () =>
      get<ReportAnswer>(`/productions/${production}/report${day === null ? '' : `?day=${encodeURIComponent(day)}`}`),
    placeholderData: keepPreviousData,
  });
export const rollsQuery = (production: string) =>
  queryOptions({ queryKey: ['rolls', production], queryFn: () => get<RollLine[]>(`/productions/${production}/rolls`) });
export const rollQuery = (id: string) =>
  queryOptions({ queryKey: ['rolls', 'one', id], queryFn: () => get<RollAnswer>(`/rolls/${id}`) });
export const bayQuery = queryOptions({ queryKey: ['bay'], queryFn: () => get<BayAnswer>('/bay'), retry: false });
export const cardQuery = (production: string, store: string, folder: string) =>
  queryOptions({
    queryKey: ['card', production, store, folder],
    queryFn: () =>
      get<CardAnswer>(
        `/productions/${production}/card?store=${encodeURIComponent(store)}&folder=${encodeURIComponent(folder)}`,
      ),
    enabled: store !== '',
    gcTime: 0,
    retry: false,
  });
export const runsQuery = (production: string) =>
  queryOptions({ queryKey: ['runs', production], queryFn: () => get<RunLine[]>(`/productions/${production}/runs`) });
export const runQuery = (id: string) =>
  queryOptions({ queryKey: ['run', id], queryFn: () => get<RunAnswer>(`/runs/${id}`) });
export const legQuery = (id: string) =>
  queryOptions({ queryKey: ['leg', id], queryFn: () => get<LegAnswer>(`/legs/${id}`) });
export const checksQuery = (production: string) =>
  queryOptions({
    queryKey: ['outputs', production],
    queryFn: () => get<ChecksAnswer>(`/productions/${production}/outputs`),
  });
export const outputQuery = (id: string) =>
  queryOptions({ queryKey: ['output', id], queryFn: () => get<OutputAnswer>(`/outputs/${id}`) });
export const handoffsQuery = (production: string) =>
  queryOptions({
    queryKey: ['handoffs', production],
    queryFn: () => get<HandoffLine[]>(`/productions/${production}/handoffs`),
  });
export const lutsQuery = queryOptions({ queryKey: ['luts'], queryFn: () => get<LutLine[]>('/luts') });
export const lutQuery = (hash: string) =>
  queryOptions({ queryKey: ['luts', hash], queryFn: () => get<LutAnswer>(`/luts/${hash}`), enabled: hash !== '' });
/** A LUT's bytes as text; those of a hash never change. */
export const lutTextQuery = (hash: string) =>
  queryOptions({
    queryKey: ['lut-text', hash],
    staleTime: Infinity,
    queryFn: async () => {
      const response = await fetch(`/api/luts/${hash}/file`);
      if (!response.ok) throw new Error('a LUT of the chain is not in the cabinet');
      return {
        text: await response.text(),
        fileName: /filename="?([^"]+)"?/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'lut.cube',
      };
    },
  });
export const benchQuery = (clip: string) =>
  queryOptions({
    queryKey: ['clips', 'bench', clip],
    queryFn: () => get<BenchAnswer>(`/clips/${clip}/bench`),
    placeholderData: keepPreviousData,
  });
export const benchGroupsQuery = (production: string) =>
  queryOptions({
    queryKey: ['clips', production, 'bench'],
    queryFn: () => get<BenchGroup[]>(`/productions/${production}/bench`),
  });
export const chainedQuery = (production: string, scope: string, key: string) =>
  queryOptions({
    queryKey: ['clips', production, 'chained', scope, key],
    queryFn: () =>
      get<ChainedClip[]>(`/productions/${production}/colour?scope=${scope}&key=${encodeURIComponent(key)}`),
  });
