import type { PlaceShape } from '@/core/geo/place';
import type { PlainPattern } from '@/core/pages/pattern';
import type { SegmentDocument } from '@/core/rules/schema';

export const like = (value: string) => ({ op: 'like' as const, value });

export const PAGE_SETS: readonly { id: string; name: string; patterns: readonly PlainPattern[] }[] = [
  { id: 'set_booking', name: 'Booking pages', patterns: [like('/book'), like('/book/**')] },
  { id: 'set_huts', name: 'Huts', patterns: [like('/huts/*')] },
  { id: 'set_reading', name: 'Reading', patterns: [like('/journal/*'), like('/routes/**')] },
];

/** Drawn by hand on the map, about a day's drive around the huts. */
export const PLACES: readonly { id: string; name: string; shape: PlaceShape }[] = [
  {
    id: 'place_near',
    name: 'Within a day’s drive',
    shape: {
      type: 'Polygon',
      coordinates: [
        [
          [8.2, 46.2],
          [9.6, 45.5],
          [11.9, 45.4],
          [13.8, 46.1],
          [16.2, 46.7],
          [15.8, 47.9],
          [13.2, 48.7],
          [11.2, 49.7],
          [9.1, 48.6],
          [8.2, 46.2],
        ],
      ],
    },
  },
];

export const SEGMENTS: readonly (SegmentDocument & { id: string; name: string })[] = [
  { id: 'seg_readers', name: 'Route readers', lookback: 30, people: { kind: 'viewed', pages: [like('/routes/**')], times: { min: 2 } } },
  { id: 'seg_comparing', name: 'Comparing huts', lookback: 30, people: { kind: 'viewed', pages: [like('/huts/*')], times: { min: 2 } } },
  {
    id: 'seg_left_booking',
    name: 'Started booking and left',
    lookback: 30,
    people: { all: [{ kind: 'viewed', pages: [{ set: 'set_booking' }] }, { none: [{ kind: 'viewed', pages: [like('/book/done')] }] }] },
  },
  { id: 'seg_booked', name: 'Booked in the last 90 days', lookback: 90, people: { kind: 'did', event: 'booking' } },
  { id: 'seg_members', name: 'Members', lookback: 540, people: { kind: 'trait', key: 'plan', test: { op: 'exists' } } },
  { id: 'seg_lapsed', name: 'Lapsed', lookback: 540, people: { kind: 'away', days: { min: 30 } } },
  { id: 'seg_newsletter', name: 'Newsletter arrivals', lookback: 30, people: { kind: 'source', of: 'visit', channel: ['email'] } },
  { id: 'seg_paid', name: 'Paid arrivals', lookback: 30, people: { kind: 'source', of: 'visit', channel: ['paid'] } },
  { id: 'seg_near', name: 'Within a day’s drive', lookback: 30, people: { kind: 'location', places: ['place_near'] } },
  {
    id: 'seg_families',
    name: 'Families',
    lookback: 540,
    people: {
      any: [
        { kind: 'tagged', tag: 'family' },
        { kind: 'trait', key: 'plan', test: { op: 'is', value: 'family' } },
      ],
    },
  },
  {
    id: 'seg_snow_curious',
    name: 'Course-curious in snow',
    lookback: 14,
    people: {
      all: [
        { kind: 'viewed', pages: [like('/courses/**')] },
        { kind: 'weather', is: ['snow'] },
      ],
    },
  },
  { id: 'seg_team', name: 'The team', lookback: 540, people: { kind: 'team', is: true } },
];
