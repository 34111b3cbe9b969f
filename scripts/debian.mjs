// Installs what is missing from Debian's packages, or says how to.
import { spawnSync } from 'node:child_process';

/** Installs Debian packages; without root or apt, ends with the exact command to type. */
export function installFromDebian(what, packages) {
  const command = `apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  const hasApt = spawnSync('apt-get', ['--version']).status === 0;
  if (!hasApt || process.getuid?.() !== 0) {
    const how = hasApt
      ? `Install it with:\n\n  sudo ${command}\n`
      : `Install these packages: ${packages.join(', ')}.`;
    throw new Error(`${what} is missing. ${how}`);
  }
  console.log(`${what} is missing: installing ${packages.join(', ')} from Debian's packages.`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) =>
    spawnSync('apt-get', args, { env, stdio: ['ignore', 'ignore', 'inherit'] });
  if (apt('install', '-y', '--no-install-recommends', ...packages).status === 0) return;
  apt('update');
  if (apt('install', '-y', '--no-install-recommends', ...packages).status !== 0)
    throw new Error(`${what} could not be installed. Try yourself:\n\n  ${command}\n`);
}
