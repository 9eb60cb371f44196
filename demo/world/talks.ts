import type { DemoCampaign } from './campaignParts';
import { LICHEN, SLATE, one, email } from './campaignParts';

/** Campaigns that ask or do something beside the page instead of over it. */
export const TALKS: readonly DemoCampaign[] = [
  {
    id: 'camp_warden',
    status: 'live',
    document: {
      name: 'Ask the warden',
      goal: { kind: 'form' },
      rule: { pages: { on: [{ set: 'set_huts' }] }, moment: { kind: 'open' }, pacing: { again: 'always' } },
      flow: {
        start: 'handle',
        messages: [
          { id: 'handle', format: 'tab', edge: 'bottom', text: 'Ask the warden', colour: SLATE, opens: 'question' },
          {
            id: 'question',
            format: 'popup',
            position: 'bottom end',
            dim: false,
            entrance: 'glide',
            width: 360,
            colour: SLATE,
            closes: { button: true, dim: false, escape: true },
            blocks: [
              { kind: 'heading', text: 'Ask the warden' },
              {
                kind: 'form',
                fields: [{ kind: 'text', name: 'question', label: 'What would you like to know?', required: true }, email('Your email')],
                submit: 'Ask',
                thanks: 'The answer walks down with the post.',
              },
            ],
          },
        ],
      },
    },
  },
  {
    id: 'camp_comparers',
    status: 'live',
    document: {
      name: 'Tag those who compare',
      goal: { kind: 'event', event: 'booking', days: 14 },
      rule: {
        people: { all: [{ kind: 'segment', id: 'seg_comparing' }, { none: [{ kind: 'tagged', tag: 'comparing' }] }] },
        pages: { on: [{ set: 'set_huts' }] },
        moment: { kind: 'open' },
        pacing: { again: 'never' },
      },
      flow: one({
        id: 'note',
        format: 'quiet',
        does: [
          { kind: 'tag', tag: 'comparing' },
          { kind: 'score', points: 5 },
        ],
      }),
    },
  },
  {
    id: 'camp_dates',
    status: 'paused',
    document: {
      name: 'Dates and party size',
      goal: { kind: 'form' },
      rule: {
        pages: { on: [{ set: 'set_huts' }] },
        moment: {
          all: [
            { kind: 'idle', seconds: 25 },
            { kind: 'scroll', atLeast: 30 },
          ],
        },
        pacing: { again: { days: 5 } },
      },
      flow: one({
        id: 'chat',
        format: 'chat',
        colour: LICHEN,
        sender: { name: 'Tarnhollow', role: 'The hut phone' },
        conversation: {
          steps: [
            { id: 'when', says: 'When would you like to come?', asks: { kind: 'date', field: 'night' } },
            {
              id: 'party',
              says: 'And how many are you?',
              asks: {
                kind: 'choice',
                field: 'party',
                options: [
                  { label: 'One or two', then: 'mail' },
                  { label: 'Three or more', then: 'children' },
                ],
              },
            },
            {
              id: 'children',
              says: 'Any children among them?',
              asks: {
                kind: 'choice',
                field: 'children',
                options: [
                  { label: 'Yes', then: 'mail', does: [{ kind: 'tag', tag: 'family' }] },
                  { label: 'No', then: 'mail' },
                ],
              },
            },
            { id: 'mail', says: 'Where shall I send what is free?', asks: { kind: 'email', field: 'email' } },
            { id: 'thanks', says: 'Thank you. You will hear from us by tonight.' },
          ],
        },
      }),
    },
  },
];
