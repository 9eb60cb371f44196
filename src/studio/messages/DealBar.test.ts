import fc from 'fast-check';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { MOST_MESSAGES } from '@/core/flows/flow';
import { partsOf, withVariant } from './DealBar';

const flow = { start: 'a', messages: [] } as never;

test('shares always make a hundred with those who see nothing', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 2, maxLength: 6 }),
      fc.integer({ min: 0, max: 90 }),
      (weights, nothing) => {
        const parts = partsOf({
          flow,
          holdout: nothing / 100,
          variants: weights.map((weight, nth) => ({ name: `v${nth}`, start: 'a', weight })),
        });
        expect(parts.reduce((sum, { share }) => sum + share, 0) + nothing).toBe(100);
      },
    ),
  );
  expect(partsOf({ flow })).toEqual([{ name: 'a', start: 'a', share: 100 }]);
});

test('a variant more is a message of its own, a copy of that of the largest, with half of its share; where no message has room there is none', () => {
  const message = (id: string, format = 'popup') => ({ id, format, blocks: [{ kind: 'heading', text: id }] });
  const campaign = { holdout: 0.1, flow: { start: 'ask', messages: [message('later'), message('ask')] } } as unknown as CampaignDocument;
  const one = withVariant(campaign);
  expect(one.variants).toEqual([
    { name: 'ask', start: 'ask', weight: 45 },
    { name: 'ask-2', start: 'ask-2', weight: 45 },
  ]);
  expect(one.flow.messages).toEqual([message('later'), message('ask'), { ...message('ask'), id: 'ask-2' }]);
  const two = withVariant(one);
  expect(two.variants?.map(({ name, weight }) => [name, weight])).toEqual([
    ['ask', 23],
    ['ask-2', 45],
    ['ask-3', 22],
  ]);
  expect(two.flow.messages).toHaveLength(4);
  const full = { flow: { start: 'm0', messages: Array.from({ length: MOST_MESSAGES }, (_, nth) => message(`m${nth}`)) } } as never;
  expect(withVariant(full)).toBe(full);
});
