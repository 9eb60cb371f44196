// Nobody is asked who happens to listen on this machine: a test that needs an analysis starts its own.
process.env.CRINDLE_ANALYSIS_URL = 'http://127.0.0.1:9';

/** @type {import('jest').Config} */
const shared = {
  testEnvironment: 'node',
  transform: {
    '^.+\\.(m?js|[tj]sx?)$': [
      '@swc/jest',
      {
        jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true }, transform: { react: { runtime: 'automatic' } } },
        module: { type: 'commonjs' },
      },
    ],
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(uuid|cookie|set-cookie-parser|d3|d3-[^/]+|internmap|delaunator|robust-predicates|parse5|entities)/)',
  ],
  moduleNameMapper: { '^@/((demo|bench|standins)/.*)$': '<rootDir>/$1', '^@/(.*)$': '<rootDir>/src/$1' },
  modulePathIgnorePatterns: ['<rootDir>/.next', '<rootDir>/dist', '<rootDir>/.crindle'],
};

export default {
  // Long: how fast the machine is is no test's matter. What hangs is told all the same.
  testTimeout: 120_000,
  projects: [
    {
      ...shared,
      displayName: 'unit',
      testMatch: ['<rootDir>/{src,demo,bench,standins}/**/*.test.{ts,tsx}', '<rootDir>/e2e/*.test.ts'],
      // What takes minutes and has its instant given in is not run once more under another clock.
      testPathIgnorePatterns: ['\\.db\\.test\\.ts$', ...(process.env.FAKETIME ? ['/truths\\.test\\.ts$'] : [])],
    },
    { ...shared, displayName: 'database', testMatch: ['<rootDir>/{src,demo,bench,standins}/**/*.db.test.ts'] },
  ],
};
