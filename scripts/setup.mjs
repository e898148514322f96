// Installs what is missing, saying what and why before it does: Debian packages by apt, node modules by npm.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(fileURLToPath(import.meta.url), '..', '..');
const debian = {
  'mariadb-server': { file: '/usr/sbin/mariadbd', why: 'keeps productions, shots and jobs' },
  ffmpeg: { file: '/usr/bin/ffmpeg', why: 'reads and writes films' },
  chromium: { file: '/usr/bin/chromium', why: 'the browser that the tests drive' },
};

export class SetupError extends Error {}

function run(command, args, what, env = {}) {
  const result = spawnSync(command, args, { cwd: root, encoding: 'utf8', env: { ...process.env, ...env } });
  if (result.error || result.status !== 0)
    throw new SetupError(
      `${what} failed: ${(
        (result.stderr || result.stdout || result.error?.message || '')
          .trim()
          .split('\n')
          .filter((l) => /^(E:|npm error|ERR)/i.test(l))[0] ?? 'no reason given'
      ).slice(0, 300)}`,
    );
}

/** @param {(keyof typeof debian)[]} packages */
export function installDebian(packages) {
  const missing = packages.filter((name) => !existsSync(debian[name].file));
  if (missing.length === 0) return;
  console.log(`installing from Debian: ${missing.map((name) => `${name} (${debian[name].why})`).join(', ')}`);
  const sudo = process.getuid() === 0 ? [] : ['sudo'],
    apt = (...args) => {
      const [command, ...rest] = [...sudo, 'apt-get', ...args];
      run(command, rest, `apt-get ${args[0]}`, { DEBIAN_FRONTEND: 'noninteractive' });
    };
  apt('update');
  apt('install', '-y', '--no-install-recommends', ...missing);
}

export function installModules() {
  const lock = join(root, 'package-lock.json'),
    mark = join(root, 'node_modules', '.wraithos-installed'),
    digest = createHash('sha256').update(readFileSync(lock)).digest('hex');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === digest && existsSync(join(root, 'node_modules', 'esbuild'))) return;
  console.log('installing node modules (npm install)');
  run('npm', ['install', '--no-audit', '--no-fund', '--loglevel=error'], 'npm install');
  // npm may have tidied the lock file; what stands there now is what was installed.
  writeFileSync(mark, createHash('sha256').update(readFileSync(lock)).digest('hex'));
}
