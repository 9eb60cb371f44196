'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import type { ReactNode } from 'react';
import { forgetDrafts } from '../conversations/drafts';
import { Search } from 'lucide-react';
import { useCallback, useState } from 'react';
import { toast } from 'sonner';
import { Guide } from '../guide/Guide';
import { KeySheet } from '../keys/KeySheet';
import { AREA_KEYS } from '../keys/keys';
import { useKeys } from '../keys/useKeys';
import type { Theme } from '../parts/layout/preferences';
import { GUIDE_COOKIE, keepPreference, setTheme, THEMES } from '../parts/layout/preferences';
import { fetched } from '../parts/net/call';
import { goToSite } from '../setup/goToSite';
import type { Command } from '../search/actions';
import { SearchSheet } from '../search/SearchSheet';
import { useNow } from '../parts/layout/useNow';
import { Ago } from '../parts/layout/Ago';
import type { NextReleaseView } from './PublishPanel';
import { PublishPanel } from './PublishPanel';
import { useMay } from '../parts/layout/Editing';

const AREAS = AREA_KEYS.filter(({ href }) => href !== '/setup');

/** More are listed in Setup. */
const MOST_OTHERS = 8;

const LIVE_MS = 10 * 60_000;

export interface FrameProps {
  readonly site: string;
  readonly person: { readonly name: string; readonly email: string };
  /** When the page script was last seen, UTC ms. */
  readonly seenAt: number | null;
  /** The step at which the guide stands; null once it was left. */
  readonly guide: number | null;
  readonly next: NextReleaseView;
  /** Others of the person's sites. */
  readonly others: readonly { readonly id: number; readonly name: string }[];
  readonly signOut: () => Promise<void>;
  readonly children: ReactNode;
}

/** So often it is asked whether the script is heard by now, where it has not been. */
const LOOK_MS = 10_000;

export function Frame({ site, person, seenAt: seenBefore, guide, next, others, signOut, children }: FrameProps) {
  const path = usePathname();
  // The same answer as Setup's: the two never say different things.
  const { data: check } = useQuery({
    queryKey: ['check'],
    queryFn: () => fetched('GET /api/site/check'),
    enabled: seenBefore === null,
    refetchInterval: ({ state }) => (state.data?.seen ? false : LOOK_MS),
  });
  const seenAt = seenBefore ?? check?.seen?.at ?? null;
  const [open, setOpen] = useState<'search' | 'keys' | 'publish'>();
  const [step, setStep] = useState(guide);
  const close = (): void => setOpen(undefined);
  useKeys({ onSearch: useCallback(() => setOpen('search'), []), onHelp: useCallback(() => setOpen('keys'), []) });
  const goTo = (next: number | null): void => {
    setStep(next);
    keepPreference(GUIDE_COOKIE, next === null ? 'left' : String(next));
  };
  const carryOut = (command: Command): void => {
    if (command === 'keys' || (command === 'publish' && mayEdit)) setOpen(command);
    else if (command === 'publish') return;
    else if (command === 'guide') goTo(0);
    else setTheme(command);
  };
  const [mayEdit, mayAnswer] = [useMay('edit'), useMay('answer')];
  const count = next.changes.length;
  const unpublished = count === 1 ? '1 change unpublished' : `${count} changes unpublished`;
  return (
    <>
      <a href="#work" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-paper focus:p-2">
        Skip to the work
      </a>
      <header className="z-30 flex items-stretch border-b border-line bg-paper max-lg:flex-wrap lg:sticky lg:top-0 lg:h-12">
        <Link
          href="/setup"
          aria-current={path.startsWith('/setup') ? 'page' : undefined}
          className="flex items-center gap-2.5 border-line px-5 hover:bg-bone max-lg:py-2 lg:border-r"
          title="Setup: script, releases"
        >
          <Health seenAt={seenAt} />
          <span className="max-w-44 truncate font-display text-[15px] font-bold">{site}</span>
          <span className={`hidden text-xs text-soft ${seenAt === null ? 'xl:inline' : 'whitespace-nowrap 2xl:inline'}`}>
            {seenAt === null ? (
              'script not seen yet'
            ) : (
              <>
                script seen <Ago at={seenAt} />
              </>
            )}
          </span>
        </Link>
        <nav aria-label="Areas" className="flex items-stretch px-3 max-lg:order-last max-lg:w-full max-lg:flex-wrap">
          {AREAS.map(({ href, label }) => {
            const isHere = path.startsWith(href);
            return (
              <Link
                key={href}
                href={href}
                aria-current={isHere ? 'page' : undefined}
                className={`flex items-center border-y-2 border-t-transparent px-3 font-semibold max-lg:py-1 ${isHere ? 'border-b-ink' : 'border-b-transparent text-soft hover:text-ink'}`}
              >
                {label}
              </Link>
            );
          })}
        </nav>
        <div className="flex items-center gap-4 px-5 max-lg:w-full max-lg:flex-wrap max-lg:py-2 lg:ml-auto">
          <button
            className="flex items-center gap-2 rounded px-2 py-1 text-soft hover:bg-bone hover:text-ink"
            title="Search (Ctrl K)"
            onClick={() => setOpen('search')}
          >
            <Search size={16} aria-hidden="true" />
            <span className="max-xl:sr-only">Search</span>
          </button>
          {count > 0 && (
            <span className={`whitespace-nowrap text-soft ${seenAt === null ? 'lg:max-2xl:hidden' : 'lg:max-xl:hidden'}`}>
              {unpublished}
            </span>
          )}
          {count === 0 ? (
            <span className="whitespace-nowrap text-soft">
              {next.number === 1 ? 'nothing to publish yet' : `release ${next.number - 1} is live`}
            </span>
          ) : (
            mayEdit && (
              <button className="act lg:whitespace-nowrap" title={unpublished} onClick={() => setOpen('publish')}>
                Publish release {next.number}
              </button>
            )
          )}
          {!mayAnswer && <span className="whitespace-nowrap text-soft">you look, and change nothing</span>}
          <Person {...person} others={others} signOut={signOut} onCommand={carryOut} />
        </div>
      </header>
      {step !== null && <Guide step={step} path={path} onStep={goTo} onLeave={() => goTo(null)} />}
      <main id="work" className="mx-auto max-w-[2000px]">
        {children}
      </main>
      <PublishPanel next={next} isOpen={open === 'publish'} onClose={close} />
      <SearchSheet isOpen={open === 'search'} onClose={close} onCommand={carryOut} />
      <KeySheet isOpen={open === 'keys'} onClose={close} />
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

const THEME_WORDS: Readonly<Record<Theme, string>> = { system: 'Colours of the system', light: 'Light colours', dark: 'Dark colours' };

function Person({
  name,
  email,
  others,
  onCommand,
  signOut,
}: {
  name: string;
  email: string;
  others: FrameProps['others'];
  onCommand: (command: Command) => void;
  signOut: () => Promise<void>;
}) {
  const item = 'block w-full rounded px-3 py-1.5 text-left data-focus:bg-bone';
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
          <Link className={item} href="/account">
            Your account
          </Link>
        </MenuItem>
        {others.slice(0, MOST_OTHERS).map(({ id, name: called }) => (
          <MenuItem key={id}>
            <button className={item} onClick={() => void goToSite(id).then((message) => message !== undefined && toast.error(message))}>
              Go to {called}
            </button>
          </MenuItem>
        ))}
        {THEMES.map((theme) => (
          <MenuItem key={theme}>
            <button className={item} onClick={() => onCommand(theme)}>
              {THEME_WORDS[theme]}
            </button>
          </MenuItem>
        ))}
        <MenuItem>
          <button className={`${item} border-t border-line`} onClick={() => onCommand('keys')}>
            Keys
          </button>
        </MenuItem>
        <MenuItem>
          <button className={item} onClick={() => onCommand('guide')}>
            Guide
          </button>
        </MenuItem>
        <MenuItem>
          <button
            className={`${item} border-t border-line`}
            onClick={() =>
              void signOut().then(
                () => {
                  forgetDrafts();
                  location.assign('/sign-in');
                },
                () => toast.error('Not signed out: the studio cannot be reached. Try again in a moment.'),
              )
            }
          >
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
