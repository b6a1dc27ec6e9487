/** Sees to it that the tests have Debian's engines, the fonts that the demo is measured with, and PostgreSQL. */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { say, stop } from './setup.mjs';

const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];
const PACKAGES = [
  'chromium',
  'firefox-esr',
  'webkit2gtk-driver',
  'xvfb',
  'fonts-liberation',
  'fonts-dejavu-core',
  'postgresql',
];

const works = (command, args) => spawnSync(command, args, { stdio: 'ignore' }).status === 0;

export function ensureEngine() {
  const there = process.env.NORMETRA_CHROMIUM
    ? existsSync(process.env.NORMETRA_CHROMIUM)
    : PLACES.some((path) => existsSync(path));
  const missing = works('dpkg-query', ['--version'])
    ? PACKAGES.filter((name) => !works('dpkg-query', ['-s', name]))
    : [];
  const wanted = missing.filter((name) => name !== 'chromium' || !there);
  if (wanted.length === 0 && there) return;
  const mayInstall = process.getuid?.() === 0 && works('apt-get', ['--version']);
  if (mayInstall && wanted.length > 0) {
    say(`installing ${wanted.join(', ')} …`);
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    spawnSync('apt-get', ['update', '-qq'], { stdio: ['ignore', 'ignore', 'inherit'], env });
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...wanted], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env,
    });
  }
  if (!process.env.NORMETRA_CHROMIUM && !PLACES.some((path) => existsSync(path)))
    stop(
      'Chromium is missing. Install it (as root: apt-get install chromium fonts-liberation), or name one in NORMETRA_CHROMIUM.',
    );
}
