import type { DemoCampaign } from './campaignParts';
import { LICHEN, SLATE, ALL_WAYS, one, email } from './campaignParts';
import { BOOKING, MAIN_GOAL } from './goals';
import { like } from './segments';
import { TALKS } from './talks';

const BOOKED = { ...BOOKING, named: MAIN_GOAL };

export const CAMPAIGNS: readonly DemoCampaign[] = [
  {
    id: 'camp_packing',
    status: 'live',
    document: {
      name: 'Packing list',
      goal: { kind: 'form' },
      rule: {
        people: {
          none: [
            { kind: 'known', is: true },
            { kind: 'tagged', tag: 'has-list' },
          ],
        },
        pages: { on: [like('/journal/*')] },
        moment: {
          all: [
            { kind: 'scroll', atLeast: 60 },
            { kind: 'delay', seconds: 20, counting: 'engaged' },
          ],
        },
        pacing: { again: { days: 14 }, stop: { dismissed: 2 } },
      },
      flow: one({
        id: 'list',
        format: 'popup',
        colour: LICHEN,
        closes: ALL_WAYS,
        blocks: [
          { kind: 'heading', text: 'The packing list, on one page' },
          { kind: 'text', text: 'Everything in this article as a list you can print and tick off.' },
          {
            kind: 'form',
            fields: [email('Your email')],
            submit: 'Send me the list',
            thanks: 'It is on its way up the mountain.',
            does: [{ kind: 'tag', tag: 'has-list' }],
          },
        ],
      }),
    },
  },
  {
    id: 'camp_member_question',
    status: 'live',
    document: {
      name: 'Member, yes or no',
      goal: { kind: 'form' },
      rule: {
        people: { none: [{ kind: 'segment', id: 'seg_members' }] },
        pages: { on: [like('/membership')] },
        moment: { kind: 'visible', selector: '#join', share: 60, seconds: 2 },
        pacing: { again: { days: 7 } },
      },
      flow: {
        start: 'ask',
        messages: [
          {
            id: 'ask',
            format: 'popup',
            colour: SLATE,
            closes: ALL_WAYS,
            blocks: [
              {
                kind: 'choice',
                question: 'Would half-price bunks change your plans?',
                answers: [
                  { label: 'Yes, tell me', does: [{ kind: 'message', id: 'leave-email' }] },
                  { label: 'No, not this year', does: [{ kind: 'message', id: 'second-thought' }] },
                ],
              },
            ],
          },
          {
            id: 'leave-email',
            format: 'popup',
            colour: SLATE,
            closes: ALL_WAYS,
            blocks: [
              { kind: 'heading', text: 'Then it pays from the third night' },
              {
                kind: 'form',
                fields: [
                  { kind: 'choice', name: 'plan', label: 'For whom?', required: true, options: ['Just me', 'A family'] },
                  email('Where shall we write to?'),
                  { kind: 'consent', name: 'letters', label: 'You may write to me about membership', required: true },
                ],
                submit: 'Send',
                thanks: 'The warden writes on Thursdays.',
              },
              { kind: 'buttons', buttons: [{ label: 'Back', quiet: true, does: [{ kind: 'message', id: 'ask' }] }] },
            ],
          },
          {
            id: 'second-thought',
            format: 'popup',
            colour: SLATE,
            closes: ALL_WAYS,
            blocks: [
              { kind: 'heading', text: 'One thing before you go' },
              { kind: 'text', text: 'Members may use the winter rooms without asking. Some join for that alone.' },
              {
                kind: 'buttons',
                buttons: [
                  { label: 'Then perhaps', does: [{ kind: 'message', id: 'leave-email' }] },
                  { label: 'No, thank you', quiet: true, does: [{ kind: 'close' }] },
                ],
              },
            ],
          },
        ],
      },
    },
  },
  {
    id: 'camp_basket',
    status: 'live',
    document: {
      name: 'Anything in the way?',
      goal: BOOKED,
      holdout: 0.2,
      rule: {
        people: {
          all: [{ kind: 'did', event: 'dates_chosen', within: 'visit' }, { none: [{ kind: 'did', event: 'booking', within: 'visit' }] }],
        },
        pages: { on: [{ set: 'set_booking' }], except: [like('/book/done')] },
        moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 20 }] },
        pacing: { again: { days: 7 } },
      },
      flow: one({
        id: 'chat',
        format: 'chat',
        colour: SLATE,
        sender: { name: 'Jorun', role: 'Warden at Skarn Shelter' },
        bubble: 'Is anything in the way of your night with us?',
        conversation: {
          steps: [
            {
              id: 'what',
              says: 'Is anything in the way of your night with us?',
              asks: {
                kind: 'choice',
                field: 'what',
                options: [
                  { label: 'The date', then: 'date' },
                  { label: 'The price', then: 'price' },
                  { label: 'Just looking', then: 'bye' },
                ],
              },
            },
            {
              id: 'date',
              says: 'Leave me a date and I will see what is free around it.',
              asks: { kind: 'date', field: 'date' },
              then: 'mail',
            },
            {
              id: 'price',
              says: 'Sunday to Thursday is a third less. Shall I hold two bunks for you?',
              asks: {
                kind: 'choice',
                field: 'hold',
                options: [
                  { label: 'Please do', then: 'mail' },
                  { label: 'No', then: 'bye' },
                ],
              },
            },
            { id: 'mail', says: 'Where can I write to?', asks: { kind: 'email', field: 'email' }, then: 'bye' },
            { id: 'bye', says: 'Good. The stove is lit at four.', then: 'end' },
          ],
          person: { nobody: 'Nobody is at the hut phone just now. Leave your email, and we write by tomorrow noon.', asksEmail: true },
        },
      }),
    },
  },
  {
    id: 'camp_snow',
    status: 'live',
    document: {
      name: 'Snow: the avalanche course',
      goal: { kind: 'event', event: 'course_enrolled', days: 7 },
      holdout: 0.2,
      rule: {
        people: {
          all: [
            { kind: 'location', places: ['place_near'] },
            { kind: 'weather', is: ['snow'] },
          ],
        },
        pages: { on: [like('/**')], except: [like('/courses/**'), { set: 'set_booking' }] },
        moment: { kind: 'scroll', atLeast: 20 },
        pacing: { again: { days: 3 }, stop: { dismissed: 2 } },
      },
      flow: one({
        id: 'banner',
        format: 'banner',
        edge: 'top',
        colour: SLATE,
        closes: { button: true, escape: true },
        blocks: [
          { kind: 'text', text: 'It snows in {city, or the hills}. Two days at Windgate teach you to read it.' },
          { kind: 'buttons', buttons: [{ label: 'See the course', does: [{ kind: 'page', url: '/courses/avalanche-awareness' }] }] },
        ],
      }),
    },
  },
  {
    id: 'camp_offer',
    status: 'live',
    document: {
      name: 'Quiet weeks on the offers page',
      goal: BOOKED,
      variants: [
        { name: 'a third less', weight: 1, start: 'third' },
        { name: 'countdown', weight: 1, start: 'countdown' },
      ],
      rule: { pages: { on: [like('/offers')] }, moment: { kind: 'open' }, pacing: { again: 'always', stop: { converted: false } } },
      flow: {
        start: 'third',
        messages: [
          {
            id: 'third',
            format: 'inset',
            into: { slot: 'offer' },
            colour: LICHEN,
            closes: { button: false },
            blocks: [
              { kind: 'heading', text: 'A third less, Sunday to Thursday' },
              { kind: 'coupon', code: '{site quiet code}', label: 'Copy the code' },
              { kind: 'buttons', buttons: [{ label: 'Book a bunk', does: [{ kind: 'page', url: '/book' }] }] },
            ],
          },
          {
            id: 'countdown',
            format: 'inset',
            into: { slot: 'offer' },
            colour: LICHEN,
            closes: { button: false },
            blocks: [
              { kind: 'heading', text: 'This week’s bunks at a third less' },
              { kind: 'countdown', minutes: 90, over: 'Gone for today. New bunks tomorrow.' },
              { kind: 'buttons', buttons: [{ label: 'Book a bunk', does: [{ kind: 'page', url: '/book' }] }] },
            ],
          },
        ],
      },
    },
  },
  {
    id: 'camp_newsletter',
    status: 'live',
    document: {
      name: 'Greeting from the newsletter',
      goal: { kind: 'page', pages: [{ set: 'set_booking' }], days: 7 },
      holdout: 0.2,
      variants: [
        { name: 'by name', weight: 2, start: 'name' },
        { name: 'plain', weight: 1, start: 'plain' },
      ],
      rule: {
        people: { kind: 'source', of: 'visit', utm: { campaign: { op: 'is', value: 'first-snow' } } },
        pages: { on: [like('/**')], except: [{ set: 'set_booking' }] },
        moment: { kind: 'delay', seconds: 5 },
        pacing: { again: 'never' },
      },
      flow: {
        start: 'name',
        messages: [
          'Good to see you, {first name, or reader}. The letter’s code is below.',
          'Welcome, reader. The letter’s code is below.',
        ].map((text, index) => ({
          id: index === 0 ? 'name' : 'plain',
          format: 'banner' as const,
          edge: 'bottom' as const,
          colour: SLATE,
          closes: { button: true, escape: true },
          blocks: [
            { kind: 'text' as const, text },
            { kind: 'coupon' as const, code: 'FIRST-SNOW', label: 'Copy' },
          ],
        })),
      },
    },
  },
  ...TALKS,
  {
    id: 'camp_welcome_back',
    status: 'ended',
    document: {
      name: 'Welcome back',
      goal: { kind: 'event', event: 'booking', days: 7 },
      rule: {
        people: { kind: 'segment', id: 'seg_lapsed' },
        pages: { on: [like('/**')], except: [{ set: 'set_booking' }] },
        moment: { kind: 'delay', seconds: 6 },
        pacing: { again: { days: 30 } },
      },
      flow: one({
        id: 'hello',
        format: 'popup',
        position: 'bottom start',
        dim: false,
        entrance: 'fade',
        colour: LICHEN,
        closes: { button: true, dim: false, escape: true },
        blocks: [
          { kind: 'heading', text: 'Welcome back, {first name, or walker}' },
          { kind: 'rating', question: 'How was your last night with us?', most: 5, thanks: 'Thank you. The warden will hear of it.' },
        ],
      }),
    },
  },
  {
    id: 'camp_quiet_weeks',
    status: 'draft',
    document: {
      name: 'Quiet weeks',
      goal: { kind: 'page', pages: [like('/book/done')], days: 3 },
      rule: {
        people: { kind: 'segment', id: 'seg_comparing' },
        pages: { on: [like('/huts/**')], except: [like('/huts/closed')] },
        moment: { kind: 'exit' },
        pacing: { again: { days: 7 } },
      },
      flow: one({
        id: 'first',
        format: 'popup',
        closes: ALL_WAYS,
        blocks: [
          { kind: 'heading', text: 'Sunday to Thursday, a third less' },
          { kind: 'text', text: 'The huts are quiet in the middle of the week.' },
          { kind: 'buttons', buttons: [{ label: 'See the quiet weeks', does: [{ kind: 'page', url: '/offers' }] }] },
        ],
      }),
    },
  },
];
