import { join } from 'node:path';
import type { NextConfig } from 'next';
import { plainHeaders } from './src/frame/policy';

const config: NextConfig = {
  headers: () => Promise.resolve([{ source: '/:path*', headers: [...plainHeaders] }]),
  transpilePackages: ['@gentle-compass/core'],
  devIndicators: false,
  poweredByHeader: false,
  reactStrictMode: true,
  turbopack: { root: join(import.meta.dirname, '../..') },
  outputFileTracingRoot: join(import.meta.dirname, '../..'),
  typescript: { ignoreBuildErrors: true }, // types are a step of their own in "npm test"
};

export default config;
