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
  experimental: {
    // Scripts and styles come from the product alone; what stands in a page itself is known by its hash.
    csp: {
      directives: [
        "default-src 'self'",
        "img-src 'self' data: blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
      ],
    },
  },
  vite: {
    build: {
      chunkSizeWarningLimit: 900,
      // Wanted where coverage is measured: what runs is then known by the lines of its sources.
      sourcemap: process.env.SOURCE_MAPS === 'yes',
    },
    ssr: { noExternal: [/^@rook-scale\//] },
  },
});
