// Finds programs that tests need besides packages; on Debian as root they are installed if they are missing.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const CHROMIUM = {
  name: 'chromium',
  own: 'CHROMIUM_PATH',
  places: ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'],
};
const REDIS = {
  name: 'redis-server',
  own: 'REDIS_PATH',
  places: ['/usr/bin/redis-server', '/usr/local/bin/redis-server'],
};

/** The path of a program, or undefined if there is none and none can be installed. */
function ensure({ name, own, places }) {
  const find = () => [process.env[own], ...places].find((path) => path && existsSync(path));
  const found = find();
  if (found) return found;
  const debian = existsSync('/etc/debian_version') && process.getuid?.() === 0;
  if (debian) {
    console.error(`Installing ${name} …`);
    const apt = (args) =>
      spawnSync('apt-get', args, {
        stdio: ['ignore', 'ignore', 'inherit'],
        env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      });
    apt(['update', '-qq']);
    apt(['install', '-y', '-qq', '--no-install-recommends', name]);
  }
  return find();
}

export const ensureChromium = () => ensure(CHROMIUM);
export const ensureRedis = () => ensure(REDIS);
