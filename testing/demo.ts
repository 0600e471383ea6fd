import { join } from 'node:path';

/** Where the painted material lies for tests: the global setup paints it if it is not there yet. */
export const demoFolder = process.env.RELAY_DEMO ?? join(import.meta.dirname, '..', '.relay', 'painted');
export const saltLantern = join(demoFolder, 'estuary', 'salt-lantern');
export const demoCards = join(demoFolder, 'cards');
export const command = join(import.meta.dirname, '..', 'relay');
export const built = join(import.meta.dirname, '..', 'build', 'relay.mjs');
