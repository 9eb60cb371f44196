'use client';

import Link from 'next/link';
import { usePathname } from 'next/navigation';
import type { ReactNode } from 'react';

const PARTS = [
  { href: '/setup', label: 'Script' },
  { href: '/setup/releases', label: 'Releases' },
  { href: '/setup/log', label: 'Log' },
  { href: '/setup/deleted', label: 'Deleted' },
  { href: '/setup/team', label: 'Our browsers' },
  { href: '/setup/brand', label: 'Brand' },
  { href: '/setup/pictures', label: 'Pictures' },
  { href: '/setup/goals', label: 'Goals' },
  { href: '/setup/page-sets', label: 'Page sets' },
  { href: '/setup/places', label: 'Places' },
  { href: '/setup/connections', label: 'Connections' },
  { href: '/setup/people', label: 'People' },
  { href: '/setup/privacy', label: 'Privacy' },
  { href: '/setup/sites', label: 'Sites' },
] as const;

/** The head of every part of Setup, with the way to the others. */
export function SetupHead({ note, children }: { note?: ReactNode; children?: ReactNode }) {
  const path = usePathname();
  return (
    <div className="mb-4 flex flex-wrap items-baseline gap-x-5 gap-y-2">
      <h1 className="text-2xl font-bold">Setup</h1>
      <nav aria-label="Parts of the setup" className="flex flex-wrap gap-x-4 gap-y-1">
        {PARTS.map(({ href, label }) => {
          const isHere = href === '/setup' ? path === href : path.startsWith(href);
          return (
            <Link
              key={href}
              href={href}
              aria-current={isHere ? 'page' : undefined}
              className={`border-b-2 pb-0.5 font-semibold ${isHere ? 'border-ink' : 'border-transparent text-soft hover:text-ink'}`}
            >
              {label}
            </Link>
          );
        })}
      </nav>
      {note && <p className="text-soft">{note}</p>}
      {children && <div className="flex flex-wrap items-center gap-2 md:ml-auto">{children}</div>}
    </div>
  );
}
