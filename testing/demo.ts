import { join } from 'node:path';

/** Where the painted originals lie for tests: the global setup paints them if they are not there yet. */
export const demoFolder = process.env.RELAY_DEMO ?? join(import.meta.dirname, '..', '.relay', 'demo', 'estuary');
export const saltLantern = join(demoFolder, 'salt-lantern');
export const command = join(import.meta.dirname, '..', 'relay');
export const built = join(import.meta.dirname, '..', 'build', 'relay.mjs');
