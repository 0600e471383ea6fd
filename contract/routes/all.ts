import { arrivalRows } from './arrivals.ts';
import { benchRows } from './bench.ts';
import { cabinetRows } from './cabinet.ts';
import { checkRows } from './checks.ts';
import { clipRows } from './clips.ts';
import { correctionRows } from './corrections.ts';
import { cutRows } from './cuts.ts';
import { swapRows } from './swaps.ts';
import { handoffRows } from './handoffs.ts';
import { identityRows } from './identity.ts';
import { originalRows } from './originals.ts';
import { recipeRows } from './recipes.ts';
import { inletRows } from './inlets.ts';
import type { Row } from './route.ts';
import { runRows } from './runs.ts';
import { spaceRows } from './space.ts';
import { siteRows } from './site.ts';

/** Every row, room by room. */
export const allRows = {
  site: siteRows,
  arrivals: arrivalRows,
  inlets: inletRows,
  clips: clipRows,
  identity: identityRows,
  cabinet: cabinetRows,
  bench: benchRows,
  corrections: correctionRows,
  recipes: recipeRows,
  runs: runRows,
  checks: checkRows,
  handoffs: handoffRows,
  originals: originalRows,
  space: spaceRows,
  cuts: cutRows,
  swaps: swapRows,
} satisfies Record<string, Readonly<Record<string, Row>>>;
