// Pages of Astro alone; TypeScript is checked, with its types, by .oxlintrc.json.
import astro from 'eslint-plugin-astro';

export default [
  { ignores: ['**/node_modules', '**/dist', '**/.astro', '.data'] },
  ...astro.configs.recommended,
];
