import { createHash } from 'node:crypto';
import { Xxh64, xxh3 } from '@node-rs/xxhash';
import { hashNames, type HashName, type Hashes } from '@relay/core/custody/manifest';
import { createXXHash128, type IHasher } from 'hash-wasm';
import { c4OfDigest } from './c4.ts';

/**
 * Takes a file's bytes once and gives all hashes that are wanted of it, as `xxhsum`, `md5sum` and `sha1sum` print them.
 */
export interface Hasher {
  update(chunk: Uint8Array): void;
  digest(): Hashes;
}

interface One {
  update(chunk: Uint8Array): unknown;
  digest(): string;
}

function hex64(value: bigint): string {
  return value.toString(16).padStart(16, '0');
}

/** Each is a WebAssembly program of its own, dearer to make than a small file is to hash: they are used again. */
const idle: IHasher[] = [];

async function oneOf(name: HashName): Promise<One> {
  switch (name) {
    case 'xxh64': {
      const hash = new Xxh64(0n);
      return { update: (chunk) => hash.update(chunk), digest: () => hex64(hash.digest()) };
    }
    case 'xxh3': {
      const hash = xxh3.Xxh3.withSeed();
      return { update: (chunk) => hash.update(chunk), digest: () => hex64(hash.digest()) };
    }
    case 'xxh128': {
      const hash = idle.pop() ?? (await createXXHash128());
      hash.init();
      return {
        update: (chunk) => hash.update(chunk),
        digest: () => {
          idle.push(hash);
          return hash.digest();
        },
      };
    }
    case 'c4': {
      const hash = createHash('sha512');
      return { update: (chunk) => hash.update(chunk), digest: () => c4OfDigest(hash.digest('hex')) };
    }
    case 'md5':
    case 'sha1': {
      const hash = createHash(name);
      return { update: (chunk) => hash.update(chunk), digest: () => hash.digest('hex') };
    }
  }
}

export async function hasherOf(names: Iterable<HashName>): Promise<Hasher> {
  const wanted = new Set(names);
  const all = await Promise.all(
    hashNames.filter((name) => wanted.has(name)).map(async (name) => [name, await oneOf(name)] as const),
  );
  return {
    update: (chunk) => all.forEach(([, one]) => one.update(chunk)),
    digest: () => Object.fromEntries(all.map(([name, one]) => [name, one.digest()])),
  };
}
