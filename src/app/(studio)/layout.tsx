import { cookies } from 'next/headers';
import type { ReactNode } from 'react';
import { signOutAction } from '@/app/sign-in/actions';
import { requireSite } from '@/server/auth/current';
import { lastSeen } from '@/server/db/sites';
import { listSitesOf } from '@/server/db/members';
import { pool, poolOf } from '@/server/db/sharedPool';
import { prepareRelease } from '@/server/releases/publish';
import { analyse } from '@/server/analysis/analyse';
import { Frame } from '@/studio/frame/Frame';
import { Providers } from '@/studio/frame/Providers';
import { stepFromPreference } from '@/studio/guide/steps';
import { GUIDE_COOKIE } from '@/studio/parts/layout/preferences';
import { may, RIGHTS } from '@/server/auth/rights';
import { RightsProvider } from '@/studio/parts/layout/Editing';

export default async function StudioLayout({ children }: { children: ReactNode }) {
  const { member, site } = await requireSite();
  // Whoever opens the studio will soon count or rehearse: the first question need not wait for the loading.
  analyse({ kind: 'warm', site: site.id }).catch((cause: unknown) => console.error(cause));
  const [seen, next, sites] = await Promise.all([
    lastSeen(poolOf(site.id), site.id),
    prepareRelease(poolOf(site.id), site.id),
    listSitesOf(pool(), member.id),
  ]);
  const guide = stepFromPreference((await cookies()).get(GUIDE_COOKIE)?.value);
  return (
    <Providers>
      <RightsProvider rights={RIGHTS.filter((right) => may(member.role, right))}>
        <Frame
          site={site.name}
          person={{ name: member.name, email: member.email }}
          seenAt={seen?.at.getTime() ?? null}
          guide={guide ?? null}
          others={sites.filter(({ id }) => id !== site.id).map(({ id, name }) => ({ id, name }))}
          signOut={signOutAction}
          next={{
            number: next.number,
            print: next.print,
            changes: [...next.changes],
            blockers: [...next.blockers],
            warnings: [...next.warnings],
          }}
        >
          {children}
        </Frame>
      </RightsProvider>
    </Providers>
  );
}
