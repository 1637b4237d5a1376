// Installs what is missing, builds what has changed and serves the application. PORT chooses the port; the server
// listens on this machine alone unless HOST names another address.
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { build, install } from './prepare.mjs';
import { root } from './root.mjs';

const port = Number(process.env.PORT ?? 3000);
if (!Number.isInteger(port) || port < 1 || port > 65535) {
  console.error(`PORT is "${process.env.PORT}"; a number from 1 to 65535 is wanted.`);
  process.exit(2);
}

const host = process.env.HOST || '127.0.0.1';

const free = await new Promise((resolve) => {
  const probe = createServer();
  probe.once('error', () => resolve(false));
  probe.once('listening', () => probe.close(() => resolve(true)));
  probe.listen(port, host);
});
if (!free) {
  console.error(`Port ${port} is taken. Stop what uses it, or choose another: PORT=${port + 1} npm start`);
  process.exit(1);
}

install();
await build();

const server = spawn(
  process.execPath,
  ['node_modules/next/dist/bin/next', 'start', '-p', String(port), '-H', host],
  {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  },
);
/** A server that still waits for a connection after so long is ended. */
const PATIENCE_MS = 5000;
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM']))
  process.on(signal, () => {
    server.kill(signal);
    setTimeout(() => server.kill('SIGKILL'), PATIENCE_MS).unref();
  });
server.on('exit', (code, signal) => process.exit(signal ? 0 : (code ?? 1)));

/** By this name a browser lets threads share memory; addresses that mean all of a machine's are its own, too. */
const isLocal = ['127.0.0.1', '0.0.0.0', '::', '::1', 'localhost'].includes(host);
const address = `http://${isLocal ? 'localhost' : host}:${port}`;
for (let tries = 0; tries < 120; tries++) {
  const ready = await fetch(address).then(
    (answer) => answer.ok,
    () => false,
  );
  if (ready) {
    console.log(`Bokelux is ready at ${address}`);
    break;
  }
  await new Promise((resolve) => setTimeout(resolve, 250));
}
