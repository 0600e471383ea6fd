import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The checkout: the built command lies in its `build` folder. */
export const checkout = dirname(dirname(fileURLToPath(import.meta.url)));

/** Where this site keeps what is its own: database, stores file, cache, logs. Tests have one of theirs. */
export const home = process.env.RELAY_HOME ?? join(checkout, '.relay');

/** The painted originals, and the empty store that outputs go to. Tests share the painted ones. */
export const demoOriginals = process.env.RELAY_DEMO ?? join(checkout, '.relay', 'demo', 'estuary');

export const places = {
  stores: join(home, 'stores.json'),
  cache: join(home, 'cache'),
  web: join(checkout, 'build', 'web'),
  site: join(home, 'site.json'),
  secret: join(home, 'secret'),
  logs: join(home, 'log'),
  database: join(home, 'database'),
  shuttle: join(home, 'demo', 'shuttle'),
} as const;
