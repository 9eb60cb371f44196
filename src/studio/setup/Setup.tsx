'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { SiteCheck } from '@/server/sites/check';
import { fetched } from '../parts/net/call';
import { Ago } from '../parts/layout/Ago';
import { Addresses } from './Addresses';
import { Install } from './Install';
import type { PrivacyChoice } from './Privacy';
import { Privacy } from './Privacy';
import { ServerEvents } from './ServerEvents';
import { SetupHead } from './SetupHead';
import type { SigningState } from './Signing';
import { Signing } from './Signing';
import { Editing } from '../parts/layout/Editing';

const CHECK_EVERY_MS = 2000;

export interface SetupProps {
  readonly siteKey: string;
  readonly addresses: readonly string[];
  readonly privacy: PrivacyChoice;
  readonly signing: SigningState;
  readonly collector: string;
  /** For events from the site's own server. */
  readonly hasEventsSecret: boolean;
}

export function Setup({ siteKey, addresses, privacy, signing, collector, hasEventsSecret }: SetupProps) {
  const [consent, setConsent] = useState(privacy.consent);
  return (
    <div className="p-6">
      <SetupHead note="One line in the head of every page, and you see here within seconds that it works." />
      <div className="grid gap-4 lg:grid-cols-2">
        <Install site={{ collector, siteKey, asks: consent === 'asked' }} />
        <Check />
        <Editing>
          <Addresses initial={addresses} />
          <Privacy initial={privacy} onConsent={setConsent} />
          <Signing initial={signing} />
          <ServerEvents collector={collector} siteKey={siteKey} hasSecret={hasEventsSecret} />
        </Editing>
      </div>
    </div>
  );
}

function Check() {
  const { data, error } = useQuery({
    queryKey: ['check'],
    refetchInterval: CHECK_EVERY_MS,
    queryFn: () => fetched('GET /api/site/check'),
  });
  const foreign = data?.refusals.filter(({ reason }) => reason === 'address') ?? [];
  const timesOf = (reason: SiteCheck['refusals'][number]['reason']): number =>
    data?.refusals.filter((one) => one.reason === reason).reduce((sum, { times }) => sum + times, 0) ?? 0;
  const [silent, robots, unsigned] = [timesOf('consent'), timesOf('robot'), timesOf('person')];
  return (
    <section className="sheet p-5" aria-labelledby="check">
      <h2 id="check" className="mb-3 text-lg font-bold">
        Is it there?
      </h2>
      {error && (
        <p role="alert" className="mb-2 text-danger">
          {error.message}
        </p>
      )}
      {!data && !error && <div className="skeleton h-24" role="status" aria-label="Looking" />}
      {data && (
        <>
          <p className="mb-3 text-base" aria-live="polite">
            {data.seen ? (
              <>
                <b>
                  Seen <Ago at={data.seen.at} />
                </b>{' '}
                on <span className="font-mono text-[13px]">{pathOf(data.seen.url)}</span>
              </>
            ) : (
              <b>Not seen yet. Put the line on a page and open that page.</b>
            )}
          </p>
          <p className="mb-3 text-soft">
            {data.release === null ? 'No release is live: the script records, but shows nothing.' : `Release ${data.release} is live.`}
          </p>
          {foreign.map(({ subject, times, at }) => (
            <p key={subject} className="mb-2 border-l-2 border-danger pl-3">
              Turned away {times} times, last <Ago at={at} />: <b className="font-mono text-[13px]">{subject}</b> is not one of the site’s
              addresses. If it is yours, add it below.
            </p>
          ))}
          {data.refusals
            .filter(({ reason }) => reason === 'key')
            .map(({ subject, times, at }) => (
              <p key={subject} className="mb-2 border-l-2 border-danger pl-3">
                Pages of this site carry a line with the key <b className="font-mono text-[13px]">{subject}</b>, which is no site’s:{' '}
                {timesWords(times)}, last <Ago at={at} />. Nothing is recorded there; put the line from this screen in its place.
              </p>
            ))}
          {data.pages.length > 0 && (
            <table className="list">
              <thead>
                <tr>
                  <th>Page</th>
                  <th className="number">Views</th>
                  <th>Last seen</th>
                </tr>
              </thead>
              <tbody>
                {data.pages.slice(0, 7).map(({ url, views, at }) => (
                  <tr key={url}>
                    <td className="font-mono text-[13px]">{pathOf(url)}</td>
                    <td className="number">{views}</td>
                    <td>
                      <Ago at={at} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {data.faults.map(({ entry, message, times, at }) => (
            <p key={`${entry} ${message}`} className="mt-3 border-l-2 border-danger pl-3">
              {entry === 'twice' ? (
                <>
                  The line is on a page twice; the second does nothing. Met {timesWords(times)}, last <Ago at={at} />.
                </>
              ) : (
                <>
                  The script met a fault of its own {timesWords(times)}, last <Ago at={at} />:{' '}
                  <span className="font-mono text-[13px]">{`${entry}: ${message}`}</span>
                </>
              )}
            </p>
          ))}
          {data.refusals
            .filter(({ reason }) => reason === 'policy')
            .map(({ subject, times, at }) => (
              <p key={subject} className="mt-3 border-l-2 border-danger pl-3">
                Browsers kept the script away {timesWords(times)}, last <Ago at={at} />, by the page’s own policy:{' '}
                <b className="font-mono text-[13px]">{subject}</b>.
              </p>
            ))}
          {data.refusals
            .filter(({ reason }) => reason === 'version')
            .map(({ subject, at }) => (
              <p key={subject} className="mt-3 border-l-2 border-moment pl-3">
                An older script out of a cache was met on <b className="font-mono text-[13px]">{subject}</b>, last <Ago at={at} />. The
                collector lets it be kept for five minutes; what lies between may keep it for longer.
              </p>
            ))}
          {silent > 0 && (
            <p className="mt-3 text-soft">
              {silent} requests in 7 days of visitors who have not agreed were turned away, and nothing of them was kept.
            </p>
          )}
          {unsigned > 0 && (
            <p className="mt-3 border-l-2 border-danger pl-3">
              In 7 days {timesWords(unsigned)} a page said who its visitor is without your server’s signature, or with a wrong one. Nobody
              was believed.
            </p>
          )}
          {robots > 0 && <p className="mt-3 text-soft">{robots} requests of robots in 7 days were counted and left out.</p>}
        </>
      )}
    </section>
  );
}

const timesWords = (times: number): string => (times === 1 ? 'once' : `${times} times`);
const pathOf = (url: string): string => (URL.canParse(url) ? new URL(url).pathname : url);
