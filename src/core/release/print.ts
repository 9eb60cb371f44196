import type { ReleasedCampaign, ReleasedFacts } from './release';

/** A campaign as it was released, as a text that is the same for the same. Facts are numbered anew in each release: the conditions behind them are compared. */
export const campaignPrint = (campaign: ReleasedCampaign, facts: ReleasedFacts): string =>
  canonical(campaign, (key, value) => (key === 'index' && typeof value === 'number' ? facts[value] : value));

/**
 * The same without the shares that are dealt: where this changes, those who meet it from then on are compared anew, since they are asked by another rule, shown
 * another message, or counted by another goal.
 */
export const experimentPrint = ({ holdout: _shares, variants, ...campaign }: ReleasedCampaign, facts: ReleasedFacts): string =>
  campaignPrint({ ...campaign, ...(variants ? { variants: variants.map((variant) => ({ ...variant, weight: 1 })) } : {}) }, facts);

/** JSON with sorted keys: the database does not keep their order. */
export function canonical(value: unknown, replace: (key: string, value: unknown) => unknown = (_key, one) => one): string {
  const sorted = (key: string, one: unknown): unknown => {
    const met = replace(key, one);
    if (typeof met !== 'object' || met === null || Array.isArray(met)) return met;
    return Object.fromEntries(Object.entries(met).sort(([a], [b]) => (a < b ? -1 : 1)));
  };
  return JSON.stringify(value, sorted);
}
