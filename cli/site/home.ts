import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The checkout: the built command lies in its `build` folder. */
export const checkout = dirname(dirname(fileURLToPath(import.meta.url)));

/** Where this site keeps what is its own: database, stores file, cache, logs. Tests have one of theirs. */
export const home = process.env.RELAY_HOME ?? join(checkout, '.relay');

/** Where the demo material is painted, once. Every site works on a copy of its own, so that nobody's arrivals get into it; tests share it. */
export const painted = process.env.RELAY_DEMO ?? join(checkout, '.relay', 'painted');

export const places = {
  stores: join(home, 'stores.json'),
  cache: join(home, 'cache'),
  web: join(checkout, 'build', 'web'),
  site: join(home, 'site.json'),
  secret: join(home, 'secret'),
  logs: join(home, 'log'),
  database: join(home, 'database'),
  estuary: join(home, 'demo', 'estuary'),
  shuttle: join(home, 'demo', 'shuttle'),
  bay: join(home, 'demo', 'bay'),
} as const;
