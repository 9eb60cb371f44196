import { campaignSchema } from '../campaigns/campaign';
import { checkFlow } from '../flows/checks';
import { describeRule } from '../rules/describe';
import { STARTING_POINTS } from './points';

test('there are sixteen, each a campaign that can be saved, left and told from the others', () => {
  expect(STARTING_POINTS.length).toBeGreaterThanOrEqual(16);
  for (const { document } of STARTING_POINTS) {
    expect(campaignSchema.safeParse(document).error).toBeUndefined();
    expect(checkFlow(document.flow)).toEqual([]);
  }
  const unique = (values: readonly string[]): number => new Set(values).size;
  expect(unique(STARTING_POINTS.map(({ id }) => id))).toBe(STARTING_POINTS.length);
  expect(unique(STARTING_POINTS.map(({ document }) => document.name))).toBe(STARTING_POINTS.length);
  const rules = STARTING_POINTS.map(({ document }) =>
    describeRule(document.rule)
      .map((phrase) => phrase.text)
      .join(''),
  );
  expect(unique(rules)).toBe(STARTING_POINTS.length);
});

test('no two look the same: words, blocks and formats differ', () => {
  const looks = STARTING_POINTS.map(({ document }) =>
    JSON.stringify(document.flow.messages.map((message) => ('blocks' in message ? message.blocks : message))),
  );
  expect(new Set(looks).size).toBe(STARTING_POINTS.length);
  expect(
    new Set(STARTING_POINTS.flatMap(({ document }) => document.flow.messages.map(({ format }) => format))).size,
  ).toBeGreaterThanOrEqual(4);
});
