import type { Metadata } from 'next';
import { connection } from 'next/server';
import type { ReactNode } from 'react';
import '@fontsource-variable/hanken-grotesk';
import '@fontsource-variable/familjen-grotesk';
import '@fontsource-variable/spline-sans-mono';
import './globals.css';

export const metadata: Metadata = { title: { default: 'Crindle', template: '%s · Crindle' } };

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Every page is made per request, so that its scripts carry the request's nonce.
  await connection();
  return (
    <html lang="en">
      <body>{children}</body>
    </html>
  );
}
