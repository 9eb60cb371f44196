'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import { Phrase } from '../messages/Phrase';
import type { Listed } from './useConversations';

const HOUR_MS = 3_600_000;
const clock = (at: number): string => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
const endOfDay = (): number => new Date().setHours(23, 59, 0, 0);

/** Whether I am here, by hand or by my hours, as a phrase that can be changed. */
export function PresencePhrase({ mine }: { mine: Listed['colleagues'][number] | undefined }) {
  const known = useQueryClient();
  const [mayTell, setMayTell] = useState(() => typeof Notification !== 'undefined' && Notification.permission === 'granted');
  if (!mine) return <span className="text-soft">You do not answer visitors.</span>;
  const set = async (presence: { hereUntil: number | null; awayUntil: number | null }, close: () => void): Promise<void> => {
    const result = await call('PUT /api/people/presence', { body: presence });
    if (!result.ok) return void toast.error(result.message);
    close();
    await known.invalidateQueries({ queryKey: ['threads'] });
  };
  const until = mine.until === null ? '' : ` until ${clock(mine.until)}`;
  const choice = (label: string, presence: () => Parameters<typeof set>[0], close: () => void) => (
    <li key={label}>
      <button className="block w-full rounded px-3 py-1 text-start hover:bg-bone" onClick={() => void set(presence(), close)}>
        {label}
      </button>
    </li>
  );
  return (
    <span className="flex flex-wrap items-center gap-4">
      {!mayTell && typeof Notification !== 'undefined' && (
        <button
          className="text-soft underline decoration-line underline-offset-4 hover:text-ink"
          onClick={() => void Notification.requestPermission().then((answer) => setMayTell(answer === 'granted'))}
        >
          tell me when somebody writes
        </button>
      )}
      <Phrase label="Whether I am here" words={mine.isHere ? `I am here${until}` : 'I am away'}>
        {(close) => (
          <ul className="grid gap-0.5">
            {choice('I am here for an hour', () => ({ hereUntil: Date.now() + HOUR_MS, awayUntil: null }), close)}
            {choice('I am here for today', () => ({ hereUntil: endOfDay(), awayUntil: null }), close)}
            {choice('I am away for an hour', () => ({ hereUntil: null, awayUntil: Date.now() + HOUR_MS }), close)}
            {choice('I am away for today', () => ({ hereUntil: null, awayUntil: endOfDay() }), close)}
            {choice('as my hours say', () => ({ hereUntil: null, awayUntil: null }), close)}
          </ul>
        )}
      </Phrase>
    </span>
  );
}
