import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Flow } from '../flows/flow';
import { partFor } from '../flows/forSome';
import type { Block } from '../messages/block';
import type { Message } from '../messages/message';
import { conditionHolds, peopleHold } from '../people/condition';
import type { PageLeaf } from '../people/inPage';
import { peopleHoldInPage } from '../people/inPage';
import type { PeopleCase, Shared } from '../rules/vectors';
import { compileRelease } from './release';

const flow: Flow = {
  start: 'first',
  messages: [{ id: 'first', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }],
};
const folder = join(__dirname, '../rules/vectors');
const shared = JSON.parse(readFileSync(join(folder, 'shared.json'), 'utf8')) as Shared;
const cases = readFileSync(join(folder, 'people.jsonl'), 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line) as PeopleCase & { id: string });

test.each(cases)(
  '$id: facts of the server and the page’s own half together give what the core gives',
  ({ people, now, staffed, visitor }) => {
    const { release, facts } = compileRelease([{ id: 'c', rule: { people }, goal: { kind: 'form' }, flow }], {
      number: 1,
      budget: {},
      ...shared,
    });
    const subject = { visitor, now, staffed, lookback: 540, sets: shared.sets, segments: {} };
    // The server knows no cookies of the browser, and the page no history.
    const answers = facts.map((condition) => conditionHolds(condition, { ...subject, visitor: { ...visitor, cookies: undefined } }));
    const { cookies, language, adBlocker, zone } = visitor;
    const inPage = peopleHoldInPage(release.campaigns[0]?.people, { facts: answers, browser: { cookies, language, adBlocker, zone }, now });
    expect(inPage).toBe(peopleHold(people, { visitor, now, staffed, lookback: 540, ...shared }));
  },
);

test.each(cases)(
  '$id: a block for these people is shown to those who surely are, once it is known',
  ({ people, now, staffed, visitor }) => {
    const blocks: Block[] = [
      { kind: 'heading', text: 'All' },
      {
        kind: 'columns',
        start: [
          { kind: 'text', text: 'Some', for: people },
          { kind: 'text', text: 'Others', for: { none: [people] } },
        ],
        end: [],
        for: people,
      },
    ];
    const [first] = flow.messages;
    const { release, facts } = compileRelease(
      [{ id: 'c', rule: {}, goal: { kind: 'form' }, flow: { ...flow, messages: [{ ...first, blocks } as Message] } }],
      { number: 1, budget: {}, ...shared },
    );
    const [campaign] = release.campaigns;
    expect(campaign?.extras).toBe(true);
    const subject = { visitor, now, staffed, lookback: 540, sets: shared.sets, segments: {} };
    const answers = facts.map((condition) => conditionHolds(condition, { ...subject, visitor: { ...visitor, cookies: undefined } }));
    const { cookies, language, adBlocker, zone } = visitor;
    const given = { browser: { cookies, language, adBlocker, zone }, now };
    // Before the collector has answered, a campaign with such a block waits.
    if (facts.length) expect(peopleHoldInPage(campaign?.people, { ...given, facts: [] })).toBeNull();
    if (adBlocker !== undefined) expect(peopleHoldInPage(campaign?.people, { ...given, facts: answers })).toBe(true);
    const shown = partFor<PageLeaf>(campaign?.flow as Flow, (one) => peopleHoldInPage(one, { ...given, facts: answers }));
    const isFor = peopleHold(people, { visitor, now, staffed, lookback: 540, ...shared }) === true;
    expect(
      (shown.messages[0] as { blocks: { kind: string; start?: { text: string }[] }[] }).blocks.map(({ kind, start }) => start ?? kind),
    ).toEqual(isFor ? ['heading', [expect.objectContaining({ text: 'Some' })]] : ['heading']);
  },
);

test('equal conditions of several campaigns share one fact', () => {
  const rule = { people: { kind: 'known' as const, is: true } };
  const campaigns = ['a', 'b'].map((id) => ({ id, rule, goal: { kind: 'form' as const }, flow }));
  expect(compileRelease(campaigns, { number: 1, budget: {}, segments: {}, sets: {} }).facts).toHaveLength(1);
});

test('a segment that is gone, or refers to itself, stays an unknown fact instead of a loop', () => {
  const segments = { loop: { lookback: 30, people: { kind: 'segment' as const, id: 'loop' } } };
  const rule = {
    people: {
      any: [
        { kind: 'segment' as const, id: 'loop' },
        { kind: 'segment' as const, id: 'gone' },
      ],
    },
  };
  const { facts } = compileRelease([{ id: 'a', rule, goal: { kind: 'form' }, flow }], { number: 1, budget: {}, segments, sets: {} });
  expect(facts.map((fact) => fact.kind)).toEqual(['segment', 'segment']);
});

test('selectors are listed once for the page to watch', () => {
  const moment = {
    any: [{ kind: 'click' as const, selector: '#a' }, { kind: 'reach' as const, selector: '#a' }, { kind: 'exit' as const }],
  };
  expect(
    compileRelease([{ id: 'a', rule: { moment }, goal: { kind: 'form' }, flow }], { number: 1, budget: {}, segments: {}, sets: {} }).release
      .watch,
  ).toEqual(['#a']);
});
