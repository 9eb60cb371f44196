'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { call, fetched } from '../parts/net/call';

/** The week's results by mail, for whoever is signed in. */
export function WeeklyMail() {
  const known = useQueryClient();
  const [isSending, setIsSending] = useState(false);
  /** What was wished and is not kept yet. */
  const [wish, setWish] = useState<boolean>();
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const { data } = useQuery({
    queryKey: ['weekly'],
    queryFn: () => fetched('GET /api/results/weekly'),
  });
  if (!data) return null;
  const want = async (wants: boolean): Promise<void> => {
    setWish(wants);
    const result = await call('PUT /api/results/weekly', { body: { wants, zone } });
    // What was asked before says nothing any more.
    await known.cancelQueries({ queryKey: ['weekly'] });
    if (result.ok) known.setQueryData(['weekly'], { ...data, wants });
    else toast.error(result.message);
    setWish(undefined);
  };
  const sendNow = async (): Promise<void> => {
    setIsSending(true);
    const result = await call('POST /api/results/weekly', { body: { zone } });
    setIsSending(false);
    if (result.ok) toast(`Last week’s results are on their way to ${result.value.to}`);
    else toast.error(result.message);
  };
  return (
    <p className="flex flex-wrap items-center gap-x-4 gap-y-1 text-soft print:hidden">
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={wish ?? data.wants} onChange={({ target }) => void want(target.checked)} />
        Mail me the week’s results each Monday, to {data.email}
      </label>
      {data.canMail ? (
        <button
          className="underline decoration-line underline-offset-4 hover:text-ink disabled:opacity-60"
          disabled={isSending}
          onClick={() => void sendNow()}
        >
          {isSending ? 'Sending …' : 'Send last week’s now'}
        </button>
      ) : (
        <span>No mail server is named yet, so nothing can be sent: see CRINDLE_MAIL_URL.</span>
      )}
    </p>
  );
}
