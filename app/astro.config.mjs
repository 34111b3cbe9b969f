import node from '@astrojs/node';
import react from '@astrojs/react';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  // Our own middleware compares Origin with Host for every unsafe method.
  security: { checkOrigin: false },
  devToolbar: { enabled: false },
  build: { assets: 'assets' },
  vite: {
    build: { chunkSizeWarningLimit: 900 },
    ssr: { noExternal: [/^@rook-scale\//] },
  },
});
