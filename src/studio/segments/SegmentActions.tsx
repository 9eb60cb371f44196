'use client';

import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import type { SegmentDocument } from '@/core/rules/schema';
import { addressOf, call } from '../parts/net/call';
import { unusedName } from '../parts/saving/unusedName';

/** What can be done with a segment besides editing it: another like it, and taking it elsewhere as JSON. */
export function SegmentActions({
  id,
  draft: { name, lookback, people },
  names,
}: {
  id: string;
  draft: SegmentDocument & { name: string };
  /** Names that are taken. */
  names: readonly string[];
}) {
  const router = useRouter();
  async function duplicate(): Promise<void> {
    const result = await call('POST /api/segments', {
      body: {
        name: unusedName(`${name.slice(0, 190)} copy`, names),
        lookback,
        people,
      },
    });
    if (!result.ok) return void toast.error(result.message);
    router.push(`/segments/${result.value.id}`);
  }
  return (
    <>
      <button className="act-quiet" onClick={() => void duplicate()}>
        Duplicate
      </button>
      <a className="act-quiet" href={addressOf('GET /segments.json', { query: { id } })} download>
        Take out JSON
      </a>
    </>
  );
}
