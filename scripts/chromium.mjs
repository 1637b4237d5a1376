// Finds a Chromium for the browser tests; on Debian as root it is installed if it is missing.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const CANDIDATES = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

export function findChromium() {
  return [process.env.CHROMIUM_PATH, ...CANDIDATES].find((path) => path && existsSync(path));
}

/** The path of a Chromium, or undefined if there is none and none can be installed. */
export function ensureChromium() {
  const found = findChromium();
  if (found) return found;
  const debian = existsSync('/etc/debian_version') && process.getuid?.() === 0;
  if (debian) {
    console.error('Installing Chromium …');
    const apt = (args) =>
      spawnSync('apt-get', args, {
        stdio: ['ignore', 'ignore', 'inherit'],
        env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      });
    apt(['update', '-qq']);
    apt(['install', '-y', '-qq', '--no-install-recommends', 'chromium']);
  }
  return findChromium();
}
