import fc from 'fast-check';
import type { CampaignDocument } from './campaign';
import { sharedOf, withShared } from './purpose';

type Part = Pick<CampaignDocument, 'rule' | 'goal'>;

const part = (): fc.Arbitrary<Part> =>
  fc.record({
    goal: fc.constantFrom<Part['goal']>({ kind: 'form' }, { kind: 'event', event: 'booking', days: 7 }),
    rule: fc.record<Part['rule'], never>(
      {
        people: fc.constantFrom<Part['rule']['people']>({ kind: 'known', is: true }, { all: [] }),
        pages: fc.constant({ on: [{ op: 'like', value: '/huts/*' }] }),
        moment: fc.constantFrom<Part['rule']['moment']>({ kind: 'exit' }, { kind: 'open' }),
        pacing: fc.constantFrom<Part['rule']['pacing']>({ alone: true }, { again: 'never' }),
      },
      { requiredKeys: [] },
    ),
  });

test('a campaign that joins has who, where and success of the purpose, and its own moment and pacing', () => {
  fc.assert(
    fc.property(part(), part(), (own, other) => {
      const joined = withShared(own, sharedOf(other));
      expect(sharedOf(joined)).toEqual(sharedOf(other));
      expect([joined.rule.moment, joined.rule.pacing]).toEqual([own.rule.moment, own.rule.pacing]);
      expect(withShared(joined, sharedOf(own))).toEqual(own);
    }),
  );
});
