// `import bytes from './name.wat'`: WebAssembly in text, assembled as it is built, for esbuild, Vite and Vitest alike.
import { readFileSync } from 'node:fs';
import wabt from 'wabt';

/** A module whose default export is the assembled bytes of a .wat file. */
async function assembled(path) {
  const { parseWat } = await wabt();
  const module = parseWat(path, readFileSync(path, 'utf8'), { simd: true, sat_float_to_int: true });
  try {
    module.validate();
    const text = Buffer.from(module.toBinary({}).buffer).toString('base64');
    return `export default Uint8Array.from(atob('${text}'), (letter) => letter.charCodeAt(0));`;
  } finally {
    module.destroy();
  }
}

/** For esbuild. */
export const watForEsbuild = {
  name: 'wat-modules',
  setup(b) {
    b.onLoad({ filter: /\.wat$/ }, async ({ path }) => ({ contents: await assembled(path), loader: 'js' }));
  },
};

/** For Vite and Vitest. */
export const watForVite = {
  name: 'wat-modules',
  enforce: 'pre',
  async load(id) {
    const [path] = id.split('?');
    return path.endsWith('.wat') ? assembled(path) : null;
  },
};
