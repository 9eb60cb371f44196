import type { CampaignDocument } from './campaign';

/** What all campaigns of a purpose have in common: who, where, and what counts as success. */
export interface Shared {
  readonly people?: CampaignDocument['rule']['people'];
  readonly pages?: CampaignDocument['rule']['pages'];
  readonly goal: CampaignDocument['goal'];
}

export const sharedOf = ({ rule: { people, pages }, goal }: Pick<CampaignDocument, 'rule' | 'goal'>): Shared => ({
  ...(people === undefined ? {} : { people }),
  ...(pages === undefined ? {} : { pages }),
  goal,
});

/** The same campaign for a purpose's people, pages and success; its moment, pacing and messages are its own. */
export function withShared<C extends Pick<CampaignDocument, 'rule' | 'goal'>>(campaign: C, { people, pages, goal }: Shared): C {
  const { people: _people, pages: _pages, ...own } = campaign.rule;
  return { ...campaign, goal, rule: { ...own, ...(people === undefined ? {} : { people }), ...(pages === undefined ? {} : { pages }) } };
}
