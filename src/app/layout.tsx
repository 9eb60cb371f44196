import type { Metadata } from 'next';
import { cookies } from 'next/headers';
import { connection } from 'next/server';
import type { ReactNode } from 'react';
import '@fontsource-variable/hanken-grotesk';
import '@fontsource-variable/familjen-grotesk';
import '@fontsource-variable/spline-sans-mono';
import { isTheme, THEME_COOKIE } from '@/studio/parts/layout/preferences';
import './globals.css';

export const metadata: Metadata = { title: { default: 'Crindle', template: '%s · Crindle' } };

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Every page is made per request, so that its scripts carry the request's nonce.
  await connection();
  const theme = (await cookies()).get(THEME_COOKIE)?.value;
  return (
    // The theme may be changed before React takes over.
    <html lang="en" data-theme={isTheme(theme) ? theme : 'system'} suppressHydrationWarning>
      <body>{children}</body>
    </html>
  );
}
