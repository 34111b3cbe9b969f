// Bundles the web server's entry, the job worker, threads and the setup step; npm packages stay outside, our own are bundled. Then compresses the files that pages ask for.
import { build } from 'esbuild';
import { compressFiles } from './compress-files.mjs';

await build({
  entryPoints: {
    'web/main': 'src/web/main.ts',
    'worker/main': 'src/worker/main.ts',
    'worker/compute': 'src/worker/compute.ts',
    'worker/web-thread': 'src/worker/web-thread.ts',
    'worker/read-file': 'src/server/intake/reader-thread.ts',
    'worker/setup': 'src/server/setup.ts',
    'worker/check': 'src/server/check-command.ts',
  },
  outdir: 'dist',
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  plugins: [
    {
      name: 'packages-outside',
      setup(bundler) {
        bundler.onResolve({ filter: /^[^./]/ }, ({ path }) =>
          path.startsWith('@rook-scale/') ? undefined : { path, external: true },
        );
      },
    },
  ],
});

await compressFiles(new URL('./dist/client/', import.meta.url));
