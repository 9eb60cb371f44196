import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { refusedWords, rightOfPage } from '@/server/auth/rights';

export const metadata: Metadata = { title: 'Not for you' };

export default async function NoAccessPage({ searchParams }: { searchParams: Promise<{ of?: string | string[] }> }) {
  const { member } = await requireSite();
  const { of } = await searchParams;
  const right = typeof of === 'string' ? rightOfPage(of) : undefined;
  return (
    <div className="grid gap-3 p-6">
      <h1 className="text-2xl font-bold">Not for you</h1>
      <p role="alert">{right ? `${refusedWords(member.role, right)}.` : 'Nothing is here, or not for you.'}</p>
    </div>
  );
}
