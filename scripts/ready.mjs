// node scripts/ready.mjs product|browser: what tests of the running product need is built or installed, where it is missing.
import { existsSync } from 'node:fs';
import { ensureBuild } from './build.mjs';
import { ensurePostgres } from './database.mjs';
import { installFromDebian } from './debian.mjs';

try {
  if (process.argv[2] === 'product') {
    ensurePostgres();
    ensureBuild();
  } else if (!process.env.CHROMIUM && !existsSync('/usr/bin/chromium'))
    installFromDebian('Chromium', ['chromium', 'fonts-dejavu-core']);
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
