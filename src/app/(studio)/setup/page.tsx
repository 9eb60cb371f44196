import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { listReleases } from '@/server/db/releases';
import { findSigning } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { Setup } from '@/studio/setup/Setup';

export const metadata: Metadata = { title: 'Setup' };

export default async function SetupPage() {
  const { site } = await requireSite();
  const [releases, signing] = await Promise.all([listReleases(poolOf(site.id), site.id), findSigning(poolOf(site.id), site.id)]);
  return (
    <Setup
      siteKey={site.key}
      addresses={[...site.addresses]}
      privacy={{ consent: site.consent, keptParameters: [...site.keptParameters] }}
      signing={{ hasSecret: signing.secret !== null, isRequired: signing.isRequired }}
      collector={process.env['CRINDLE_COLLECTOR'] ?? 'http://127.0.0.1:4701'}
      releases={releases.map(({ number, name, note, publishedAt, by, campaigns }) => ({
        number,
        name,
        note,
        at: publishedAt.getTime(),
        by,
        campaigns,
      }))}
    />
  );
}
