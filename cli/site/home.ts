import { dirname } from 'node:path';
import { under } from '@relay/core/naming/under';
import { fileURLToPath } from 'node:url';

/** The checkout: the built command lies in its `build` folder. */
export const checkout = dirname(dirname(fileURLToPath(import.meta.url)));

/** Where this site keeps what is its own: database, stores file, cache, logs. Tests have one of theirs. */
export const home = process.env.RELAY_HOME ?? under(checkout, '.relay');

/**
 * Where the demo material is painted, once. Every site works on a copy of its own, so that nobody's arrivals get into
 * it; tests share it.
 */
export const painted = process.env.RELAY_DEMO ?? under(checkout, '.relay', 'painted');

export const places = {
  home,
  stores: under(home, 'stores.json'),
  cache: under(home, 'cache'),
  journals: under(home, 'journals'),
  scratch: under(home, 'scratch'),
  web: under(checkout, 'build', 'web'),
  site: under(home, 'site.json'),
  secret: under(home, 'secret'),
  logs: under(home, 'log'),
  database: under(home, 'database'),
  demo: under(home, 'demo'),
  estuary: under(home, 'demo', 'estuary'),
  shuttle: under(home, 'demo', 'shuttle'),
  bay: under(home, 'demo', 'bay'),
} as const;
