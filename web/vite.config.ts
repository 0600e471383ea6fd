import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { watForVite } from '../watModules.mjs';

export default defineConfig({
  plugins: [watForVite, react(), tailwindcss()],
  worker: { plugins: () => [watForVite] },
  build: { outDir: '../build/web', emptyOutDir: true, assetsInlineLimit: 0, target: 'es2022' },
});
