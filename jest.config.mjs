/** Two projects: the core and all that has no screen under Node, the interface's parts under jsdom. */
const shared = {
  transform: {
    '@jsquash/.+\\.js$': '<rootDir>/scripts/jest-module.cjs',
    '^.+\\.m?[jt]sx?$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
          target: 'es2022',
        },
      },
    ],
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(image-js|ml-[a-z0-9-]+|fft.js|is-any-array|tiff|fast-bmp|fast-jpeg|uint8-base64|colord|ts-pattern|js-priority-queue|react-hotkeys-hook|comlink|fast-png|iobuffer|culori|jsep|@jsquash|geotiff|quick-lru|web-worker|xml-utils|lerc|zstddec|@petamoriken|pako|parse-headers|react-plotly.js|three|@dnd-kit|property-graph|@gltf-transform|ktx-parse)/)',
  ],
  modulePathIgnorePatterns: ['<rootDir>/.next/', '<rootDir>/dist/'],
};

const config = {
  projects: [
    {
      ...shared,
      displayName: 'core',
      testEnvironment: 'node',
      testMatch: [
        '<rootDir>/src/**/*.test.ts',
        '<rootDir>/demo/**/*.test.ts',
        '<rootDir>/tests/unit/**/*.test.ts',
      ],
    },
    { ...shared, displayName: 'ui', testEnvironment: 'jsdom', testMatch: ['<rootDir>/src/**/*.test.tsx'] },
  ],
  coverageProvider: 'v8',
  // One less than there are cores would be one on a small machine.
  maxWorkers: 2,
  // Busy machines are slow.
  testTimeout: 60_000,
};

export default config;
