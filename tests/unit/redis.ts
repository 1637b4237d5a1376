import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { connect, createServer } from 'node:net';

const PLACES = [process.env['REDIS_PATH'], '/usr/bin/redis-server', '/usr/local/bin/redis-server'];

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

const answers = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.on('connect', () => resolve(socket.destroy() !== undefined));
    socket.on('error', () => resolve(false));
  });

/** Starts a Redis server of its own that keeps nothing. */
export async function startRedis(folder: string): Promise<{ url: string; server: ChildProcess }> {
  const program = PLACES.find((path) => path !== undefined && existsSync(path));
  if (!program) throw new Error('there is no redis-server (Debian: apt-get install redis-server)');
  const port = await freePort();
  const settings = ['--save', '', '--appendonly', 'no', '--bind', '127.0.0.1', '--dir', folder];
  const server = spawn(program, ['--port', String(port), ...settings], { stdio: 'ignore' });
  while (!(await answers(port))) await new Promise((resolve) => setTimeout(resolve, 50));
  return { url: `redis://127.0.0.1:${port}`, server };
}
