import type { Plugin as EsbuildPlugin } from 'esbuild';
import type { Plugin as VitePlugin } from 'vite';

export const watForEsbuild: EsbuildPlugin;
export const watForVite: VitePlugin;
