import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { root } from '../packages.mjs';

/**
 * Which tests can reach changed files, nearest first. Imports are followed from each file to those that import it, up
 * to tests, and up to endpoints and pages, which the tests over HTTP and in a browser name by their address.
 *
 * @param changed paths below the root, such as `core/src/design/divide.ts`
 * @returns for each kind of test its files, nearest to a change first
 */
export async function reachOf(changed) {
  const tests = filesIn(['core/test', 'demo', 'app/test'], /\.(test|spec)\.ts$/);
  const doors = filesIn(['app/src/pages', 'app/src/worker', 'app/src/web'], /\.(ts|astro)$/);
  const distance = distances(changed, await importers());
  const reached = doors.filter((door) => distance.has(door)).map((door) => doorOf(door, distance));
  const nearest = tests.flatMap((test) => {
    const own = { steps: distance.get(test) ?? Infinity, mentions: 0 };
    const named = isOverHttp(test) ? nearestNamed(test, reached) : own;
    const near = named.steps < own.steps ? named : own;
    return near.steps < Infinity ? [{ test, ...near }] : [];
  });
  nearest.sort((one, other) => one.steps - other.steps || other.mentions - one.mentions);
  const of = (pattern) => nearest.map(({ test }) => test).filter((test) => pattern.test(test));
  return {
    core: of(/^core\/|^demo\/|^app\/test\/(words|drawing)\//),
    http: of(/^app\/test\/integration\//),
    browser: of(/^app\/test\/browser\//),
  };
}

const isOverHttp = (test) => /^app\/test\/(integration|browser)\//.test(test);

function filesIn(folders, pattern) {
  return folders.flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map(({ parentPath, path, name }) => relative(root, join(parentPath ?? path, name)))
      .filter((path) => pattern.test(path) && !/node_modules|\/dist\/|\.astro\//.test(path)),
  );
}

/** For each file those that import it. */
async function importers() {
  const { default: typescript } = await import('typescript');
  const by = new Map();
  for (const path of filesIn(['core', 'demo', 'app'], /\.(tsx?|astro)$/)) {
    const text = readFileSync(join(root, path), 'utf8');
    const { importedFiles } = typescript.preProcessFile(text, true, true);
    for (const { fileName } of importedFiles) {
      const imported = placeOf(fileName, path);
      if (imported) by.set(imported, [...(by.get(imported) ?? []), path]);
    }
  }
  return by;
}

/** Imports name files in full, and rooms of our own packages. */
function placeOf(name, importer) {
  if (name.startsWith('.')) return join(dirname(importer), name);
  const room = /^@rook-scale\/core\/(.+)$/.exec(name)?.[1];
  if (room) return `core/src/${room}/index.ts`;
  return name === '@rook-scale/demo' ? 'demo/index.ts' : undefined;
}

/** Steps from a change to each file that imports it, however indirectly. */
function distances(changed, by) {
  const found = new Map(changed.map((path) => [path, 0]));
  for (const path of found.keys())
    for (const importer of by.get(path) ?? [])
      if (!found.has(importer)) found.set(importer, found.get(path) + 1);
  return found;
}

/** How tests name an endpoint or a page; what stands behind no address stands behind all of them, at the end. */
function doorOf(path, distance) {
  const steps = distance.get(path);
  const place = relative('app/src/pages', path).replace(/(\/index)?\.(ts|astro)$/, '');
  if (place.startsWith('..')) return { pattern: /./g, steps: steps + 100 };
  if (path.endsWith('.astro'))
    return {
      pattern: new RegExp(`['"\`/]${place.split('/').at(-1)}['"\`?]`, 'g'),
      steps,
      isPage: true,
    };
  const parts = place.split('/').map((part) => (part.startsWith('[') ? '[^/\'"`]+' : part));
  return { pattern: new RegExp(`/${parts.join('/')}(?![\\w/-])`, 'g'), steps };
}

/** The nearest of the doors that a test names, and how often it does. Without a browser nothing comes of a page. */
function nearestNamed(test, doors) {
  const text = readFileSync(join(root, test), 'utf8');
  const inBrowser = test.endsWith('.spec.ts');
  let nearest = { steps: Infinity, mentions: 0 };
  for (const { pattern, steps, isPage } of doors) {
    if ((isPage && !inBrowser) || steps > nearest.steps) continue;
    const mentions = text.match(pattern)?.length ?? 0;
    if (mentions === 0) continue;
    nearest =
      steps < nearest.steps
        ? { steps, mentions }
        : { steps, mentions: nearest.mentions + mentions };
  }
  return nearest;
}
