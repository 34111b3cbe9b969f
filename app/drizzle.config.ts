import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: './src/server/ground/database/schema.ts',
  out: './migrations',
  casing: 'snake_case',
});
