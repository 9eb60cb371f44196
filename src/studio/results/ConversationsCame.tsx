'use client';

import { useQuery } from '@tanstack/react-query';
import { count } from '@/core/results/words';
import type { ConversationResults } from '@/server/db/conversationResults';
import { waitWords } from '../conversations/words';
import { send } from '../parts/net/send';

/** What came of a campaign's conversations with people; nothing where there were none. */
export function ConversationsCame({ campaign, from, to }: { campaign: string; from: number | undefined; to: number | undefined }) {
  const { data } = useQuery({
    queryKey: ['conversation results', campaign, from, to],
    queryFn: async () => {
      const asked = new URLSearchParams();
      if (from !== undefined) asked.set('from', String(from));
      if (to !== undefined) asked.set('to', String(to));
      const result = await send<ConversationResults>('GET', `/api/campaigns/${campaign}/conversations?${asked}`);
      if (!result.ok) throw new Error(result.message);
      return result.value;
    },
  });
  if (!data || data.wanted === 0) return null;
  const { wanted, answered, missed, medianWaitMs, mostWaitMs, byPerson } = data;
  const waits = (ms: number | null): string => (ms === null ? '–' : waitWords(ms));
  return (
    <section className="sheet p-4" aria-labelledby="conversations-came">
      <h2 id="conversations-came" className="flex flex-wrap items-baseline gap-3 font-semibold">
        Conversations with people
        <a className="act-quiet ms-auto print:hidden" href={`/conversations.csv?campaign=${campaign}`} download>
          as CSV
        </a>
      </h2>
      <p className="mb-2">
        {count(wanted)} wanted a person; {count(answered)} were answered{missed > 0 && `, ${count(missed)} missed`}.
        {medianWaitMs !== null &&
          ` Half of them waited no longer than ${waits(medianWaitMs)}, nine in ten no longer than ${waits(mostWaitMs)}.`}
      </p>
      {byPerson.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th>Who answered</th>
              <th className="number">Conversations</th>
              <th className="number">Lines</th>
              <th className="number">Half waited at most</th>
            </tr>
          </thead>
          <tbody>
            {byPerson.map(({ name, conversations, lines, medianWaitMs: median }) => (
              <tr key={name}>
                <td>{name}</td>
                <td className="number">{count(conversations)}</td>
                <td className="number">{count(lines)}</td>
                <td className="number">{waits(median)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
