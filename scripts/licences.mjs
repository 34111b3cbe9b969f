// npm run licences: writes LICENCES.md, the packages that the product is shipped with and their terms.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './packages.mjs';

const lock = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
const lines = Object.entries(lock.packages)
  .filter(([path, { dev, link }]) => path.startsWith('node_modules/') && !dev && !link)
  .map(([path, { version, optional }]) => {
    const file = join(root, path, 'package.json');
    // Packages for other machines than this one are in the list of what was chosen, not on the disk.
    if (!existsSync(file))
      return optional ? undefined : `| ${nameOf(path)} | ${version} | not known |`;
    const { license, licenses } = JSON.parse(readFileSync(file, 'utf8'));
    const terms = license?.type ?? license ?? licenses?.map(({ type }) => type).join(' or ');
    return `| ${nameOf(path)} | ${version} | ${terms ?? 'not said'} |`;
  })
  .filter(Boolean);
const body = [...new Set(lines)].sort().join('\n');
writeFileSync(
  join(root, 'LICENCES.md'),
  `# Licences of what Rook Scale is shipped with\n\nWritten by \`npm run licences\` from the packages installed. The fonts are under the SIL Open Font Licence.\n\n| Package | Version | Licence |\n| --- | --- | --- |\n${body}\n`,
);

function nameOf(path) {
  return path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
}
