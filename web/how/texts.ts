import arrivals from '../../docs/how/arrivals.md?raw';
import bench from '../../docs/how/bench.md?raw';
import checks from '../../docs/how/checks.md?raw';
import clips from '../../docs/how/clips.md?raw';
import handoffs from '../../docs/how/handoffs.md?raw';
import recipes from '../../docs/how/recipes.md?raw';
import runs from '../../docs/how/runs.md?raw';
import site from '../../docs/how/site.md?raw';

/** What each station is for and how it is used, by the word of its address; the README links the same files. */
const byStation: Readonly<Record<string, string>> = {
  arrivals,
  clips,
  bench,
  cabinet: bench,
  recipes,
  runs,
  checks,
  handoffs,
  site,
};

/** The text for a page, by its path; that of Clips, where the work begins, for pages that have none. */
export function howOf(path: string): string {
  const word = /^\/p\/[^/]+\/([^/]+)/.exec(path)?.[1] ?? path.split('/')[1] ?? '';
  return byStation[word] ?? clips;
}
