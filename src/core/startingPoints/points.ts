import type { CampaignDocument } from '../campaigns/campaign';
import type { Block, BlockOf } from '../messages/block';
import type { Message, MessageOf } from '../messages/message';

/** What a campaign may begin from: a message with its flow, a rule and what counts as success. */
export interface StartingPoint {
  readonly id: string;
  /** When one takes it, in a sentence. */
  readonly use: string;
  readonly document: CampaignDocument;
}

const ALL_WAYS = { button: true, dim: true, escape: true };
const EVERYWHERE = { on: [{ op: 'like' as const, value: '/**' }] };
const WEEKLY = { again: { days: 7 } };

const heading = (text: string): Block => ({ kind: 'heading', text });
const text = (words: string): BlockOf<'text'> => ({ kind: 'text', text: words });
const email = (label = 'Your email') => ({ kind: 'email' as const, name: 'email', label, required: true });
const popup = (id: string, blocks: Block[], more: Partial<MessageOf<'popup'>> = {}): Message => ({
  id,
  format: 'popup',
  closes: ALL_WAYS,
  blocks,
  ...more,
});
const aside = { position: 'bottom end', dim: false } as const;

/** Ours. Each rule holds on any site; pages and words are made one's own afterwards. */
export const STARTING_POINTS: readonly StartingPoint[] = [
  {
    id: 'list',
    use: 'Who has read to the end may want to hear from you again.',
    document: {
      name: 'Sign up to a list',
      goal: { kind: 'form' },
      rule: {
        people: { kind: 'known', is: false },
        pages: EVERYWHERE,
        moment: {
          all: [
            { kind: 'scroll', atLeast: 60 },
            { kind: 'delay', seconds: 15, counting: 'engaged' },
          ],
        },
        pacing: { again: { days: 14 }, stop: { dismissed: 2 } },
      },
      flow: {
        start: 'list',
        messages: [
          popup(
            'list',
            [
              heading('The next one by email?'),
              text('Once a month, nothing else, and you can leave with one click.'),
              {
                kind: 'form',
                fields: [email(), { kind: 'consent', name: 'letters', label: 'You may write to me', required: true }],
                submit: 'Sign me up',
                thanks: 'You are on the list.',
                does: [{ kind: 'tag', tag: 'list' }],
              },
            ],
            aside,
          ),
        ],
      },
    },
  },
  {
    id: 'leaving',
    use: 'Who moves to leave may have missed something.',
    document: {
      name: 'Before they leave',
      goal: { kind: 'form' },
      rule: { pages: EVERYWHERE, moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 20 }] }, pacing: WEEKLY },
      flow: {
        start: 'leaving',
        messages: [
          popup('leaving', [
            heading('Shall we send you this page?'),
            text('Leave an email and find it again when you have more time.'),
            { kind: 'form', fields: [email('Where to?')], submit: 'Send it to me', thanks: 'It is on its way.' },
          ]),
        ],
      },
    },
  },
  {
    id: 'basket',
    use: 'Who was about to pay and leaves is asked what stands in the way.',
    document: {
      name: 'Basket left',
      goal: { kind: 'event', event: 'order', days: 3 },
      rule: {
        people: { none: [{ kind: 'did', event: 'order', within: 'visit' }] },
        pages: { on: ['/cart/**', '/basket/**', '/checkout/**', '/book/**'].map((value) => ({ op: 'like' as const, value })) },
        moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 10 }] },
        pacing: WEEKLY,
      },
      flow: {
        start: 'basket',
        messages: [
          popup('basket', [
            heading('Is anything in the way?'),
            {
              kind: 'choice',
              question: 'What would help you to go on?',
              answers: [
                { label: 'I have a question', does: [{ kind: 'message', id: 'question' }] },
                { label: 'It costs too much', does: [{ kind: 'tag', tag: 'price' }, { kind: 'close' }] },
                { label: 'Nothing, I am just looking', does: [{ kind: 'close' }] },
              ],
            },
          ]),
          popup('question', [
            heading('Ask us'),
            {
              kind: 'form',
              fields: [{ kind: 'text', name: 'question', label: 'Your question', required: true }, email('Where shall we answer?')],
              submit: 'Ask',
              thanks: 'We answer within a day.',
            },
          ]),
        ],
      },
    },
  },
  {
    id: 'yes-no',
    use: 'One question first; who says no gets one second thought.',
    document: {
      name: 'Yes or no, with second thoughts',
      goal: { kind: 'form' },
      rule: { people: { kind: 'visits', times: { min: 2 } }, pages: EVERYWHERE, moment: { kind: 'scroll', atLeast: 50 }, pacing: WEEKLY },
      flow: {
        start: 'ask',
        messages: [
          popup('ask', [
            {
              kind: 'choice',
              question: 'Would half the price change your plans?',
              answers: [
                { label: 'Yes, tell me', does: [{ kind: 'message', id: 'leave-email' }] },
                { label: 'No, not now', does: [{ kind: 'message', id: 'second-thought' }] },
              ],
            },
          ]),
          popup('leave-email', [
            heading('Then let us write to you'),
            {
              kind: 'form',
              fields: [email('Where to?')],
              submit: 'Send',
              thanks: 'Thank you. You hear from us soon.',
              does: [{ kind: 'tag', tag: 'wants-offer' }],
            },
          ]),
          popup('second-thought', [
            heading('One thing before you go'),
            text('Say what only you offer, in a sentence.'),
            {
              kind: 'buttons',
              buttons: [
                { label: 'Then perhaps', does: [{ kind: 'message', id: 'leave-email' }] },
                { label: 'No, thank you', quiet: true, does: [{ kind: 'close' }] },
              ],
            },
          ]),
        ],
      },
    },
  },
  {
    id: 'announcement',
    use: 'Something everybody should know, on every page.',
    document: {
      name: 'Announcement',
      goal: { kind: 'page', pages: [{ op: 'like', value: '/news/**' }], days: 1 },
      rule: { pages: EVERYWHERE, moment: { kind: 'open' }, pacing: { stop: { dismissed: 1 } } },
      flow: {
        start: 'announcement',
        messages: [
          {
            id: 'announcement',
            format: 'banner',
            edge: 'top',
            pushes: true,
            closes: { button: true, escape: false },
            blocks: [
              text('From Monday on we are open until eight.'),
              { kind: 'buttons', buttons: [{ label: 'What changes', does: [{ kind: 'page', url: '/news' }] }] },
            ],
          },
        ],
      },
    },
  },
  {
    id: 'until',
    use: 'An offer that ends at an hour, with the time that is left.',
    document: {
      name: 'Until midnight',
      goal: { kind: 'page', pages: [{ op: 'like', value: '/offers/**' }], days: 1 },
      rule: {
        people: { kind: 'visits', times: { min: 2 } },
        pages: EVERYWHERE,
        moment: { kind: 'delay', seconds: 8 },
        pacing: { again: { days: 1 } },
      },
      flow: {
        start: 'until',
        messages: [
          {
            id: 'until',
            format: 'banner',
            edge: 'bottom',
            closes: { button: true, escape: true },
            blocks: [
              text('The early price ends in'),
              { kind: 'countdown', minutes: 180, over: 'It has ended.' },
              { kind: 'buttons', buttons: [{ label: 'See the offer', does: [{ kind: 'page', url: '/offers' }] }] },
            ],
          },
        ],
      },
    },
  },
  {
    id: 'code',
    use: 'A code to copy, for those who have looked around.',
    document: {
      name: 'A code to copy',
      goal: { kind: 'event', event: 'order', days: 7 },
      rule: {
        people: { kind: 'viewed', times: { min: 4 } },
        pages: EVERYWHERE,
        moment: { kind: 'idle', seconds: 20 },
        pacing: { again: { days: 30 } },
      },
      flow: {
        start: 'code',
        messages: [
          popup('code', [
            heading('Ten percent, for having looked so long'),
            text('Good until the end of the month.'),
            { kind: 'coupon', code: 'WELCOME10', label: 'Copy it' },
          ]),
        ],
      },
    },
  },
  {
    id: 'rate',
    use: 'Whether what you wrote was of use, asked at its end.',
    document: {
      name: 'Rate what you read',
      goal: { kind: 'form' },
      rule: {
        pages: EVERYWHERE,
        moment: {
          all: [
            { kind: 'scroll', atLeast: 85 },
            { kind: 'delay', seconds: 20, counting: 'engaged' },
          ],
        },
        pacing: { again: { days: 30 } },
      },
      flow: {
        start: 'rate',
        messages: [
          popup('rate', [{ kind: 'rating', question: 'Was this page of use to you?', most: 5, thanks: 'Thank you, that helps.' }], aside),
        ],
      },
    },
  },
  {
    id: 'why',
    use: 'Who looked at many pages and leaves without doing anything tells why.',
    document: {
      name: 'Why are you leaving?',
      goal: { kind: 'form' },
      rule: { people: { kind: 'viewed', times: { min: 3 } }, pages: EVERYWHERE, moment: { kind: 'exit' }, pacing: { again: { days: 30 } } },
      flow: {
        start: 'why',
        messages: [
          popup('why', [
            heading('May we ask why?'),
            {
              kind: 'form',
              fields: [
                {
                  kind: 'choice',
                  name: 'why',
                  label: 'What kept you from going on?',
                  required: true,
                  options: ['I did not find it', 'It costs too much', 'I come back later', 'Something else'],
                },
                { kind: 'text', name: 'more', label: 'In your own words' },
              ],
              submit: 'Tell',
              thanks: 'Thank you for telling us.',
            },
          ]),
        ],
      },
    },
  },
  {
    id: 'back',
    use: 'Who comes back after a while is greeted as somebody who was here.',
    document: {
      name: 'Welcome back',
      goal: { kind: 'page', pages: [{ op: 'like', value: '/news/**' }], days: 1 },
      rule: {
        people: { kind: 'away', days: { min: 7 } },
        pages: EVERYWHERE,
        moment: { kind: 'delay', seconds: 3 },
        pacing: { again: { days: 30 } },
      },
      flow: {
        start: 'back',
        messages: [
          popup(
            'back',
            [
              heading('Good to see you again, {first name, or stranger}'),
              text('Here is what is new since you were last here.'),
              {
                kind: 'buttons',
                buttons: [
                  { label: 'Show me', does: [{ kind: 'page', url: '/news' }] },
                  { label: 'Not now', quiet: true, does: [{ kind: 'close' }] },
                ],
              },
            ],
            aside,
          ),
        ],
      },
    },
  },
  {
    id: 'source',
    use: 'Who comes from an advertisement finds what it promised.',
    document: {
      name: 'Greeting by source',
      goal: { kind: 'page', pages: [{ op: 'like', value: '/offers/**' }], days: 1 },
      rule: {
        people: { kind: 'source', of: 'visit', channel: ['paid'] },
        pages: EVERYWHERE,
        moment: { kind: 'delay', seconds: 2 },
        pacing: { again: { days: 7 } },
      },
      flow: {
        start: 'source',
        messages: [
          {
            id: 'source',
            format: 'banner',
            edge: 'top',
            closes: { button: true, escape: true },
            blocks: [
              text('You came for the offer: it is here.'),
              { kind: 'buttons', buttons: [{ label: 'Go to the offer', does: [{ kind: 'page', url: '/offers' }] }] },
            ],
          },
        ],
      },
    },
  },
  {
    id: 'ask-us',
    use: 'Who stops for a while may have a question.',
    document: {
      name: 'Ask us',
      goal: { kind: 'form' },
      rule: { pages: EVERYWHERE, moment: { kind: 'idle', seconds: 30 }, pacing: { again: { days: 3 } } },
      flow: {
        start: 'chat',
        messages: [
          {
            id: 'chat',
            format: 'chat',
            sender: { name: 'Our team' },
            bubble: 'May we help you with anything?',
            conversation: {
              steps: [
                {
                  id: 'what',
                  says: 'What may we help you with?',
                  asks: { kind: 'choice', field: 'what', options: [{ label: 'A question' }, { label: 'Just looking', then: 'bye' }] },
                },
                { id: 'question', says: 'Go ahead, please.', asks: { kind: 'text', field: 'question' } },
                { id: 'where', says: 'Where may we write to you?', asks: { kind: 'email', field: 'email' }, then: 'thanks' },
                { id: 'thanks', says: 'Thank you. We answer within a day.', then: 'end' },
                { id: 'bye', says: 'Then look around. We are here.' },
              ],
            },
          },
        ],
      },
    },
  },
  {
    id: 'call',
    use: 'Who would rather talk leaves a number.',
    document: {
      name: 'Call me',
      goal: { kind: 'form' },
      rule: {
        people: { kind: 'viewed', times: { min: 3 } },
        pages: EVERYWHERE,
        moment: { kind: 'delay', seconds: 5 },
        pacing: { stop: { converted: true } },
      },
      flow: {
        start: 'handle',
        messages: [
          { id: 'handle', format: 'tab', edge: 'end', text: 'Call me', opens: 'call' },
          popup('call', [
            heading('We call you'),
            {
              kind: 'form',
              fields: [
                { kind: 'phone', name: 'phone', label: 'Your number', required: true },
                { kind: 'choice', name: 'when', label: 'When?', options: ['In the morning', 'In the afternoon'] },
              ],
              submit: 'Call me',
              thanks: 'We call you on the next working day.',
            },
          ]),
        ],
      },
    },
  },
  {
    id: 'time',
    use: 'Who is close to deciding picks a time to meet.',
    document: {
      name: 'Pick a time',
      goal: { kind: 'event', event: 'meeting', days: 14 },
      rule: {
        people: { kind: 'visits', times: { min: 3 } },
        pages: EVERYWHERE,
        moment: { kind: 'scroll', atLeast: 40 },
        pacing: { again: { days: 14 } },
      },
      flow: {
        start: 'time',
        messages: [
          popup('time', [
            heading('Half an hour with us?'),
            text('We show you around and answer what is open.'),
            {
              kind: 'buttons',
              buttons: [
                {
                  label: 'Pick a time',
                  does: [
                    { kind: 'calendar', url: '/meet' },
                    { kind: 'tag', tag: 'meeting' },
                  ],
                },
                { label: 'Not now', quiet: true, does: [{ kind: 'close' }] },
              ],
            },
          ]),
        ],
      },
    },
  },
  {
    id: 'waiting',
    use: 'What is not there at present can be waited for.',
    document: {
      name: 'Waiting list',
      goal: { kind: 'form' },
      rule: { people: { kind: 'viewed', times: { min: 2 } }, pages: EVERYWHERE, moment: { kind: 'idle', seconds: 15 }, pacing: WEEKLY },
      flow: {
        start: 'waiting',
        messages: [
          popup('waiting', [
            heading('Nothing free at present'),
            text('We write to you once, as soon as there is.'),
            {
              kind: 'form',
              fields: [{ kind: 'date', name: 'from', label: 'From when on?' }, email()],
              submit: 'Put me on the list',
              thanks: 'You are on it.',
              does: [{ kind: 'tag', tag: 'waiting' }],
            },
          ]),
        ],
      },
    },
  },
  {
    id: 'next',
    use: 'Who has read to the end finds what comes next.',
    document: {
      name: 'What to read next',
      goal: { kind: 'page', pages: [{ op: 'like', value: '/journal/**' }], days: 1 },
      rule: { pages: EVERYWHERE, moment: { kind: 'scroll', atLeast: 90 }, pacing: { again: { days: 1 } } },
      flow: {
        start: 'next',
        messages: [
          popup(
            'next',
            [
              heading('And now?'),
              {
                kind: 'columns',
                start: [
                  text('The one that most people read after this.'),
                  { kind: 'buttons', buttons: [{ label: 'Read it', does: [{ kind: 'page', url: '/journal' }] }] },
                ],
                end: [
                  text('Or begin at the beginning.'),
                  { kind: 'buttons', buttons: [{ label: 'The first one', quiet: true, does: [{ kind: 'page', url: '/journal' }] }] },
                ],
              },
            ],
            { ...aside, width: 480 },
          ),
        ],
      },
    },
  },
];
