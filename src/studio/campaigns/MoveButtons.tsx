'use client';

import { ChevronDown, ChevronUp } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import { send } from '../parts/send';

/** Moves a campaign in the site's order: where two could show at once, the upper one does. */
export function MoveButtons({ id, name, order }: { id: string; name: string; order: readonly string[] }) {
  const router = useRouter();
  const at = order.indexOf(id);

  async function move(by: 1 | -1): Promise<void> {
    const campaigns = [...order];
    [campaigns[at], campaigns[at + by]] = [campaigns[at + by] as string, id];
    const result = await send('PUT', '/api/campaigns/order', { campaigns });
    if (!result.ok) toast.error(result.message);
    router.refresh();
  }

  return (
    <span className="mr-2 inline-flex flex-col align-top">
      <button
        className="text-soft hover:text-ink disabled:opacity-30"
        aria-label={`Move ${name} up`}
        disabled={at <= 0}
        onClick={() => void move(-1)}
      >
        <ChevronUp size={16} aria-hidden="true" />
      </button>
      <button
        className="text-soft hover:text-ink disabled:opacity-30"
        aria-label={`Move ${name} down`}
        disabled={at < 0 || at === order.length - 1}
        onClick={() => void move(1)}
      >
        <ChevronDown size={16} aria-hidden="true" />
      </button>
    </span>
  );
}
