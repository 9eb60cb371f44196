import { campaignSchema } from '@/core/campaigns/campaign';
import { checkFlow } from '@/core/flows/checks';
import { placeShapeSchema } from '@/core/geo/place';
import { FORMATS } from '@/core/messages/message';
import { segmentSchema } from '@/core/rules/schema';
import { PAGES } from '../site/pages';
import { CAMPAIGNS } from './campaigns';
import { PLACES, SEGMENTS } from './segments';
import { TRUTHS } from './truth';

test('every campaign is one that the studio would take, and its flow has nothing wrong', () => {
  for (const { id, document } of CAMPAIGNS) {
    expect({ id, issues: campaignSchema.safeParse(document).error?.issues }).toEqual({ id, issues: undefined });
    expect({ id, findings: checkFlow(document.flow, document.variants) }).toEqual({ id, findings: [] });
  }
});

test('all formats are shown, and what is promised of the demo is there', () => {
  const formats = new Set(CAMPAIGNS.flatMap(({ document }) => document.flow.messages.map(({ format }) => format)));
  expect([...formats].sort()).toEqual([...FORMATS].sort());
  expect(new Set(CAMPAIGNS.map(({ status }) => status))).toEqual(new Set(['live', 'paused', 'ended', 'draft']));
  expect(CAMPAIGNS.filter(({ document }) => document.variants)).toHaveLength(2);
  expect(CAMPAIGNS.filter(({ document }) => document.holdout)).toHaveLength(3);
  expect(SEGMENTS).toHaveLength(12);
  expect(TRUTHS.every(({ campaign }) => CAMPAIGNS.some(({ id }) => id === campaign))).toBe(true);
});

test('segments and places are well formed', () => {
  for (const { id: _id, name: _name, ...segment } of SEGMENTS) expect(segmentSchema.safeParse(segment).success).toBe(true);
  for (const { shape } of PLACES) expect(placeShapeSchema.safeParse(shape).success).toBe(true);
});

test('the site has its pages, each with an address of its own', () => {
  expect(PAGES.length).toBeGreaterThanOrEqual(40);
  expect(new Set(PAGES.map(({ path }) => path)).size).toBe(PAGES.length);
});
