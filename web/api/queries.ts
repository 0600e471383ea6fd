import type {
  ChecksAnswer, ClipsAnswer, ClipSort, FoldersAnswer, HandoffLine, LeftAsideLine, LegAnswer, OutputAnswer, ProductionAnswer, ReadingAnswer, RecipeAnswer, RunAnswer, RunLine, SiteAnswer, StoreAnswer,
} from '@relay/contract/api';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { get } from './client.ts';

/** Every question the pages ask, with the key its answer is kept under. */
export const productionsQuery = queryOptions({ queryKey: ['productions'], queryFn: () => get<ProductionAnswer[]>('/productions') });
export const productionQuery = (id: string) => queryOptions({ queryKey: ['productions', id], queryFn: () => get<ProductionAnswer>(`/productions/${id}`) });
export const siteQuery = queryOptions({ queryKey: ['site'], queryFn: () => get<SiteAnswer>('/site') });
export const storesQuery = queryOptions({ queryKey: ['stores'], queryFn: () => get<StoreAnswer[]>('/stores') });
export const recipesQuery = queryOptions({ queryKey: ['recipes'], queryFn: () => get<RecipeAnswer[]>('/recipes') });
export const foldersQuery = (store: string, folder: string) =>
  queryOptions({ queryKey: ['folders', store, folder], queryFn: () => get<FoldersAnswer>(`/stores/${store}/folders?folder=${encodeURIComponent(folder)}`), enabled: store !== '' });
export const readingsQuery = (production: string) => queryOptions({ queryKey: ['readings', production], queryFn: () => get<ReadingAnswer[]>(`/productions/${production}/readings`) });
export const leftAsideQuery = (production: string) => queryOptions({ queryKey: ['clips', production, 'left-aside'], queryFn: () => get<LeftAsideLine[]>(`/productions/${production}/left-aside`) });
export const clipsQuery = (production: string, sort: ClipSort, direction: 'up' | 'down', filter: string) =>
  queryOptions({
    queryKey: ['clips', production, sort, direction, filter],
    queryFn: () => get<ClipsAnswer>(`/productions/${production}/clips?sort=${sort}&direction=${direction}&filter=${encodeURIComponent(filter)}`),
    placeholderData: keepPreviousData,
  });
export const runsQuery = (production: string) => queryOptions({ queryKey: ['runs', production], queryFn: () => get<RunLine[]>(`/productions/${production}/runs`) });
export const runQuery = (id: string) => queryOptions({ queryKey: ['run', id], queryFn: () => get<RunAnswer>(`/runs/${id}`) });
export const legQuery = (id: string) => queryOptions({ queryKey: ['leg', id], queryFn: () => get<LegAnswer>(`/legs/${id}`) });
export const checksQuery = (production: string) => queryOptions({ queryKey: ['outputs', production], queryFn: () => get<ChecksAnswer>(`/productions/${production}/outputs`) });
export const outputQuery = (id: string) => queryOptions({ queryKey: ['output', id], queryFn: () => get<OutputAnswer>(`/outputs/${id}`) });
export const handoffsQuery = (production: string) => queryOptions({ queryKey: ['handoffs', production], queryFn: () => get<HandoffLine[]>(`/productions/${production}/handoffs`) });
