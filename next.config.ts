import type { NextConfig } from 'next';

/** Threads share memory only in a page that is isolated from other origins. */
const ISOLATION = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
];

const config: NextConfig = {
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by their own, quicker step before the build.
  typescript: { ignoreBuildErrors: true },
  headers: () => Promise.resolve([{ source: '/:path*', headers: ISOLATION }]),
};

export default config;
