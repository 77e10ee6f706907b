import { execSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** The top folder of the repository. */
export const ROOT = fileURLToPath(new URL('..', import.meta.url));

/** Runs a command in the repository and shows what it says. @returns its exit code */
export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', ...options }).status ?? 1;
}

/** Installs packages when they are missing or older than the lock file. */
export function needPackages() {
  const marker = `${ROOT}/node_modules/.package-lock.json`;
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync(`${ROOT}/package-lock.json`).mtimeMs) return;
  console.log('Installing packages…');
  if (run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel', 'error']) !== 0) process.exit(1);
}

/** Installs Debian's Chromium when it is missing (as root). */
export function needChromium() {
  try {
    execSync('command -v chromium', { stdio: 'ignore' });
    return;
  } catch {
    console.log('Installing Chromium…');
  }
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  if (run('apt-get', ['update', '-qq'], { env }) !== 0 || run('apt-get', ['install', '-y', '-qq', 'chromium'], { env }) !== 0) {
    console.error('Chromium could not be installed. The browser tests need the Debian package "chromium".');
    process.exit(1);
  }
}

function newest(folder) {
  let time = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'node_modules' || entry.name === 'dist') continue;
    const path = `${folder}/${entry.name}`;
    time = Math.max(time, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return time;
}

/** Builds the application when a source is newer than the last build. */
export function needBuild() {
  const built = `${ROOT}/apps/web/dist/index.html`;
  const sources = ['apps/web', 'packages', 'demo'].map((f) => newest(`${ROOT}/${f}`));
  if (existsSync(built) && statSync(built).mtimeMs > Math.max(...sources)) return;
  console.log('Building the application…');
  if (run('npm', ['run', '--silent', 'build']) !== 0) process.exit(1);
}
