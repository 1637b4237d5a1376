import type { NextConfig } from 'next';

/** Threads share memory only in a page that is isolated from other origins. */
const ISOLATION = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
];

/** What a worker's script may do; pages have a policy of their own (src/proxy.ts). */
const WORKER_POLICY = [
  {
    key: 'Content-Security-Policy',
    value:
      "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self' blob:; worker-src 'self' blob:",
  },
];

const config: NextConfig = {
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by their own, quicker step before the build.
  typescript: { ignoreBuildErrors: true },
  headers: () =>
    Promise.resolve([
      { source: '/:path*', headers: ISOLATION },
      { source: '/_next/static/:path*', headers: WORKER_POLICY },
    ]),
};

export default config;
