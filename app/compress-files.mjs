import { readdir, readFile, writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { brotliCompress, gzip } from 'node:zlib';

/** Files that are text; fonts and pictures are compressed already. */
const text = /\.(js|css|svg|html|json)$/;

/** Writes a .br and a .gz beside every text file of a folder, for the web server to send. */
export async function compressFiles(folder) {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  const files = entries.filter((entry) => entry.isFile() && text.test(entry.name));
  await Promise.all(
    files.map(async ({ parentPath, path, name }) => {
      const file = `${parentPath ?? path}/${name}`;
      const content = await readFile(file);
      await writeFile(`${file}.br`, await promisify(brotliCompress)(content));
      await writeFile(`${file}.gz`, await promisify(gzip)(content, { level: 9 }));
    }),
  );
}
