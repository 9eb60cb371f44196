// Messages of every format, each a campaign of the release that formats.spec.ts shows.
import type { Message } from '../src/core/messages/message';
import { ENTRANCES, POSITIONS } from '../src/core/messages/message';

const ALL = { button: true, dim: true, escape: true };
const heading = (text: string) => ({ kind: 'heading' as const, text });
const popup = (id: string, overrides: object = {}): Message => ({
  id,
  format: 'popup',
  closes: ALL,
  blocks: [heading(`Pop-up ${id}`)],
  ...overrides,
});
export const slug = (text: string): string => text.replaceAll(' ', '-');

/** Longer than a narrow screen is wide, and with no place to break at. */
const LONG = 'Sommerübernachtungsgutscheinverlosungsteilnahme';

export const single: Record<string, Message[]> = {
  ...Object.fromEntries(POSITIONS.map((position) => [`at-${slug(position)}`, [popup('a', { position })]])),
  ...Object.fromEntries(ENTRANCES.map((entrance) => [`in-${entrance}`, [popup('a', { entrance })]])),
  'slow-modal': [popup('a', { blocks: [heading('Slow'), { kind: 'buttons', buttons: [{ label: 'One', does: [{ kind: 'close' }] }] }] })],
  'slow-open': [popup('a', { dim: false, closes: { button: true, dim: false, escape: true } })],
  open: [popup('a', { dim: false, closes: { button: true, dim: false, escape: true } })],
  'only-button': [popup('a', { closes: { button: true, dim: false, escape: false } })],
  'only-dim': [popup('a', { closes: { button: false, dim: true, escape: false } })],
  'only-escape': [popup('a', { closes: { button: false, dim: false, escape: true } })],
  later: [popup('a', { closes: { ...ALL, after: 2 } })],
  top: [
    { id: 'a', format: 'banner', edge: 'top', closes: { button: true, escape: true }, blocks: [{ kind: 'text', text: 'Over the top' }] },
  ],
  bottom: [
    {
      id: 'a',
      format: 'banner',
      edge: 'bottom',
      closes: { button: true, escape: true },
      blocks: [{ kind: 'text', text: 'Over the bottom' }],
    },
  ],
  pushes: [
    {
      id: 'a',
      format: 'banner',
      edge: 'top',
      pushes: true,
      closes: { button: true, escape: false },
      blocks: [{ kind: 'text', text: 'Pushes' }],
    },
  ],
  'in-slot': [
    {
      id: 'a',
      format: 'banner',
      edge: 'top',
      slot: 'offer',
      closes: { button: true, escape: false },
      blocks: [{ kind: 'text', text: 'In the slot' }],
    },
  ],
  inset: [{ id: 'a', format: 'inset', into: { slot: 'offer' }, closes: { button: true }, blocks: [heading('Fills the slot')] }],
  'inset-after': [
    { id: 'a', format: 'inset', into: { selector: 'h1' }, how: 'after', closes: { button: true }, blocks: [heading('After the heading')] },
  ],
  tab: [
    { id: 'handle', format: 'tab', edge: 'end', text: 'Ask us', opens: 'asked' },
    popup('asked', { dim: false, closes: { button: true, dim: false, escape: true } }),
  ],
  blocks: [
    popup('a', {
      blocks: [
        heading('Hello {first name, or walker}'),
        { kind: 'picture', src: '/scene.svg', alt: 'A hut', width: 300, height: 90 },
        { kind: 'columns', start: [{ kind: 'text', text: 'Left' }], end: [{ kind: 'text', text: 'Right' }] },
        { kind: 'countdown', minutes: 90, over: 'Over' },
        { kind: 'coupon', code: 'QUIET', label: 'Copy' },
        { kind: 'spacer', height: 12 },
        { kind: 'rating', question: 'How was it?', most: 5, thanks: 'Thank you for the points' },
        {
          kind: 'buttons',
          buttons: [
            { label: 'Ring us', does: [{ kind: 'phone', number: '+43 512 000' }] },
            { label: 'Offers', quiet: true, does: [{ kind: 'page', url: '/offers' }] },
          ],
        },
      ],
    }),
  ],
  long: [
    popup('a', {
      blocks: [
        heading(LONG),
        { kind: 'text', text: LONG },
        { kind: 'columns', start: [{ kind: 'text', text: LONG }], end: [heading(LONG)] },
        { kind: 'coupon', code: LONG.slice(0, 40), label: LONG },
        { kind: 'rating', question: LONG, most: 10, thanks: LONG },
        { kind: 'choice', question: LONG, answers: [{ label: LONG, does: [{ kind: 'close' }] }] },
        {
          kind: 'form',
          fields: [
            { kind: 'text', name: 'who', label: LONG },
            { kind: 'choice', name: 'hut', label: LONG, options: [LONG, `${LONG}!`] },
            { kind: 'choices', name: 'extras', label: LONG, options: [LONG] },
            { kind: 'consent', name: 'ok', label: LONG, link: { words: LONG, url: '/privacy' } },
          ],
          submit: LONG,
          thanks: LONG,
        },
        { kind: 'buttons', buttons: [{ label: LONG, does: [{ kind: 'close' }] }] },
      ],
    }),
  ],
  form: [
    popup('a', {
      blocks: [
        heading('Tell us'),
        {
          kind: 'form',
          fields: [
            { kind: 'text', name: 'who', label: 'Name', required: true },
            { kind: 'email', name: 'email', label: 'Email', required: true },
            { kind: 'phone', name: 'phone', label: 'Phone' },
            { kind: 'number', name: 'nights', label: 'Nights', min: 1, max: 9 },
            { kind: 'choice', name: 'hut', label: 'Hut', options: ['Windgate', 'Upper Moss'], required: true },
            { kind: 'choices', name: 'extras', label: 'Extras', options: ['Supper', 'Lunch'] },
            { kind: 'date', name: 'night', label: 'First night' },
            { kind: 'consent', name: 'ok', label: 'You may write to me', required: true, link: { words: 'What that is', url: '/privacy' } },
          ],
          submit: 'Send',
          thanks: 'Thank you, all of it',
        },
      ],
    }),
  ],
  flow: [
    popup('ask', {
      blocks: [
        {
          kind: 'choice',
          question: 'Shall we write to you?',
          answers: [
            { label: 'Yes', does: [{ kind: 'message', id: 'form' }] },
            {
              label: 'No',
              does: [
                { kind: 'message', id: 'second' },
                { kind: 'tag', tag: 'said-no' },
              ],
            },
          ],
        },
      ],
    }),
    popup('form', {
      blocks: [
        heading('Where to?'),
        { kind: 'form', fields: [{ kind: 'email', name: 'email', label: 'Email', required: true }], submit: 'Send', thanks: 'It is sent' },
      ],
    }),
    popup('second', {
      blocks: [
        heading('Sure?'),
        {
          kind: 'buttons',
          buttons: [
            { label: 'On second thought, yes', does: [{ kind: 'message', id: 'form' }] },
            { label: 'Sure', quiet: true, does: [{ kind: 'close' }] },
          ],
        },
      ],
    }),
  ],
  chat: [
    {
      id: 'c',
      format: 'chat',
      sender: { name: 'Jorun', role: 'Warden' },
      bubble: 'May I ask something?',
      conversation: {
        steps: [
          {
            id: 'party',
            says: 'How many are you?',
            asks: {
              kind: 'choice',
              field: 'party',
              options: [
                { label: 'Two', then: 'mail' },
                { label: 'More', then: 'children' },
              ],
            },
          },
          {
            id: 'children',
            says: 'Any children?',
            asks: {
              kind: 'choice',
              field: 'children',
              options: [{ label: 'Yes', then: 'mail', does: [{ kind: 'tag', tag: 'family' }] }, { label: 'No' }],
            },
          },
          { id: 'mail', says: 'Where can I write?', asks: { kind: 'email', field: 'email' } },
          { id: 'bye', says: 'Thank you.' },
        ],
      },
    },
  ],
  quiet: [
    {
      id: 'q',
      format: 'quiet',
      does: [
        { kind: 'tag', tag: 'quiet-one' },
        { kind: 'score', points: 3 },
        { kind: 'report', event: 'was_quiet' },
      ],
    },
  ],
};
