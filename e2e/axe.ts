// What axe finds on a page.
import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';

interface Asked {
  /** What is looked at; the whole page where it is left out. */
  readonly within?: string;
  /** Only these rules. */
  readonly rules?: string[];
  /** Only rules with one of these tags. */
  readonly tags?: string[];
}

/** Each rule with the first elements that break it, once the screen has its title: going from one to another there is none for a moment. */
export async function faultsOf(page: Page, { within, rules, tags }: Asked = {}): Promise<string[]> {
  await expect(page).toHaveTitle(/./);
  // Without a second page to put the findings of frames together in, which takes longer than looking at ours.
  const axe = new AxeBuilder({ page }).setLegacyMode();
  // What keeps the rules is not told: saying where all of it stands takes longer than looking.
  axe.options({ resultTypes: ['violations'] });
  if (within) axe.include(within);
  if (rules) axe.withRules(rules);
  if (tags) axe.withTags(tags);
  const { violations } = await axe.analyze();
  return violations.map(
    ({ id, nodes }) =>
      `${id}: ${nodes
        .slice(0, 2)
        .map(({ html }) => html.slice(0, 140))
        .join(' | ')}`,
  );
}
