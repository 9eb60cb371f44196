'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import type { ReactNode } from 'react';
import { useState } from 'react';
import { signOutAction } from '@/app/sign-in/actions';
import { useNow } from '../parts/useNow';
import { Ago } from '../parts/Ago';
import type { NextReleaseView } from './PublishPanel';
import { PublishPanel } from './PublishPanel';

const AREAS = [
  { href: '/today', label: 'Today' },
  { href: '/visits', label: 'Visits' },
  { href: '/segments', label: 'Segments' },
  { href: '/campaigns', label: 'Campaigns' },
  { href: '/leads', label: 'Leads' },
] as const;

const LIVE_MS = 10 * 60_000;

export interface FrameProps {
  readonly site: string;
  readonly person: { readonly name: string; readonly email: string };
  /** When the page script was last seen, UTC ms. */
  readonly seenAt: number | null;
  readonly next: NextReleaseView;
  readonly children: ReactNode;
}

export function Frame({ site, person, seenAt, next, children }: FrameProps) {
  const path = usePathname();
  const [isPublishing, setPublishing] = useState(false);
  const count = next.changes.length;
  return (
    <>
      <a href="#work" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-paper focus:p-2">
        Skip to the work
      </a>
      <header className="sticky top-0 z-30 flex h-12 items-stretch border-b border-line bg-paper">
        <Link
          href="/setup"
          aria-current={path.startsWith('/setup') ? 'page' : undefined}
          className="flex items-center gap-2.5 border-r border-line px-5 hover:bg-bone"
          title="Setup: script, releases"
        >
          <Health seenAt={seenAt} />
          <span className="max-w-44 truncate font-display text-[15px] font-bold">{site}</span>
          <span className="hidden text-xs text-soft xl:inline">
            {seenAt === null ? (
              'script not seen yet'
            ) : (
              <>
                script seen <Ago at={seenAt} />
              </>
            )}
          </span>
        </Link>
        <nav aria-label="Areas" className="flex items-stretch px-3">
          {AREAS.map(({ href, label }) => {
            const isHere = path.startsWith(href);
            return (
              <Link
                key={href}
                href={href}
                aria-current={isHere ? 'page' : undefined}
                className={`flex items-center border-y-2 border-t-transparent px-3 font-semibold ${isHere ? 'border-b-ink' : 'border-b-transparent text-soft hover:text-ink'}`}
              >
                {label}
              </Link>
            );
          })}
        </nav>
        <div className="ml-auto flex items-center gap-4 px-5">
          {count > 0 && <span className="text-soft">{count === 1 ? '1 change unpublished' : `${count} changes unpublished`}</span>}
          {count === 0 ? (
            <span className="text-soft">{next.number === 1 ? 'nothing to publish yet' : `release ${next.number - 1} is live`}</span>
          ) : (
            <button className="act" onClick={() => setPublishing(true)}>
              Publish release {next.number}
            </button>
          )}
          <Person {...person} />
        </div>
      </header>
      <main id="work" className="mx-auto max-w-[2000px]">
        {children}
      </main>
      <PublishPanel next={next} isOpen={isPublishing} onClose={() => setPublishing(false)} />
    </>
  );
}

function Health({ seenAt }: { seenAt: number | null }) {
  const now = useNow();
  const isLive = seenAt !== null && now - seenAt < LIVE_MS;
  // A filled dot, or a ring: the shape says it too.
  return (
    <span
      suppressHydrationWarning
      aria-hidden="true"
      className={`h-2.5 w-2.5 rounded-full border-2 ${isLive ? 'border-[#2e8b57] bg-[#2e8b57]' : 'border-soft'}`}
    />
  );
}

function Person({ name, email }: { name: string; email: string }) {
  const initials = name
    .split(/\s+/)
    .map((word) => word[0])
    .join('')
    .slice(0, 2);
  return (
    <Menu>
      <MenuButton aria-label={`${name}, account`} className="h-8 w-8 rounded-full border border-line text-xs font-bold">
        {initials}
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-40 mt-1 w-56 sheet p-1 shadow-lg">
        <p className="px-3 py-2">
          <b className="block">{name}</b>
          <span className="text-soft">{email}</span>
        </p>
        <MenuItem>
          <button className="block w-full rounded px-3 py-1.5 text-left data-focus:bg-bone" onClick={() => void signOutAction()}>
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
