import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { findEventsSecret, findSigning } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { Setup } from '@/studio/setup/Setup';

export const metadata: Metadata = { title: 'Setup' };

export default async function SetupPage() {
  const { site } = await requireSite();
  const [signing, eventsSecret] = await Promise.all([findSigning(poolOf(site.id), site.id), findEventsSecret(poolOf(site.id), site.id)]);
  return (
    <Setup
      siteKey={site.key}
      addresses={[...site.addresses]}
      privacy={{ consent: site.consent, keptParameters: [...site.keptParameters] }}
      signing={{ hasSecret: signing.secret !== null, isRequired: signing.isRequired }}
      hasEventsSecret={eventsSecret !== undefined}
      collector={process.env['CRINDLE_COLLECTOR'] ?? 'http://127.0.0.1:4701'}
    />
  );
}
