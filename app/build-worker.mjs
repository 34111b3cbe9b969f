// Bundles the job worker, its threads and that of the web server, and the setup step; npm packages stay outside, our own are bundled.
import { build } from 'esbuild';

await build({
  entryPoints: {
    main: 'src/worker/main.ts',
    compute: 'src/worker/compute.ts',
    divide: 'src/worker/divide.ts',
    setup: 'src/server/setup.ts',
  },
  outdir: 'dist/worker',
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
