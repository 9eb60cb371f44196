import type { Lead } from '../db/leads';

/** What every lead has; one column more for each answer. */
const FIRST = ['at', 'email', 'campaign', 'page', 'visitor', 'agreed', 'withdrawn', 'tags', 'note'] as const;

/** The columns of leads with such answers, each with a name of its own. */
export function leadColumns(answers: readonly string[]): { readonly name: string; readonly of: (lead: Lead) => string }[] {
  const own: Readonly<Record<(typeof FIRST)[number], (lead: Lead) => string>> = {
    at: ({ at }) => at.toISOString(),
    email: ({ email }) => email ?? '',
    campaign: ({ campaign, campaignId }) => campaign ?? campaignId,
    page: ({ url }) => url,
    visitor: ({ visitorId }) => String(visitorId ?? ''),
    agreed: ({ consent }) => consent.map(({ words }) => words).join('; '),
    withdrawn: ({ withdrawnAt }) => withdrawnAt?.toISOString() ?? '',
    tags: ({ tags }) => tags.join(', '),
    note: ({ note }) => note,
  };
  return [
    ...FIRST.map((name) => ({ name, of: own[name] })),
    // The email stands in its own column already.
    ...answers
      .filter((name) => name !== 'email')
      .map((name) => ({ name: name in own ? `answer ${name}` : name, of: ({ fields }: Lead) => String(fields[name] ?? '') })),
  ];
}

export const leadLine = ({ id, at, email, fields, url, campaign, campaignId, visitorId, consent, withdrawnAt, tags, note }: Lead): string =>
  JSON.stringify({
    id,
    at: at.getTime(),
    email,
    campaign: { id: campaignId, name: campaign },
    url,
    visitor: visitorId,
    fields,
    consent,
    withdrawn: withdrawnAt?.getTime() ?? null,
    tags,
    note,
  });
