'use client';

import { useQuery } from '@tanstack/react-query';
import { count } from '@/core/results/words';
import { addressOf, fetched } from '../parts/net/call';
import { waitWords } from '../conversations/words';

/** What came of a campaign's conversations with people; nothing where there were none. */
export function ConversationsCame({ campaign, from, to }: { campaign: string; from: number | undefined; to: number | undefined }) {
  const { data } = useQuery({
    queryKey: ['conversation results', campaign, from, to],
    queryFn: () => fetched('GET /api/campaigns/{id}/conversations', { params: { id: campaign }, query: { from, to } }),
  });
  if (!data || data.wanted === 0) return null;
  const { wanted, answered, missed, medianWaitMs, mostWaitMs, byPerson } = data;
  const waits = (ms: number | null): string => (ms === null ? '–' : waitWords(ms));
  return (
    <section className="sheet p-4" aria-labelledby="conversations-came">
      <h2 id="conversations-came" className="flex flex-wrap items-baseline gap-3 font-semibold">
        Conversations with people
        <a className="act-quiet ms-auto print:hidden" href={addressOf('GET /conversations.csv', { query: { campaign } })} download>
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
