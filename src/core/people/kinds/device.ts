import { z } from 'zod';
import { DEVICE_CATEGORIES } from '../../history/visitor';
import type { Truth } from '../../logic/truth';
import { and } from '../../logic/truth';
import type { Subject } from '../subject';
import type { PeopleKind } from '../kind';
import { spoken } from '../../typing/spoken';
import { listExample, maybe, shape } from '../../testing/examples';

const names = () => z.array(z.string().min(1).max(100)).min(1).max(50).optional();

export const deviceSchema = () =>
  z.strictObject({
    kind: z.literal('device'),
    category: z.array(z.enum(DEVICE_CATEGORIES)).min(1).optional(),
    os: names(),
    browser: names(),
  });
export type DeviceCondition = z.infer<ReturnType<typeof deviceSchema>>;

export function deviceHolds({ category, os, browser }: DeviceCondition, { visitor: { device } }: Subject): Truth {
  if (!device) return null;
  return and([partHolds(category, device.category), partHolds(os, device.os), partHolds(browser, device.browser)]);
}

function partHolds(list: readonly string[] | undefined, found: string | undefined): Truth {
  if (!list) return true;
  return found === undefined ? null : list.some((one) => one.toLowerCase() === found.toLowerCase());
}

export function deviceWords({ category, os, browser }: DeviceCondition): string {
  const parts = [
    category?.join(' or ') ?? 'any device',
    ...(os ? [`with ${os.join(' or ')}`] : []),
    ...(browser ? [`in ${browser.join(' or ')}`] : []),
  ];
  return `use ${parts.join(' ')}`;
}

export const deviceKind: PeopleKind<DeviceCondition, 'server'> = {
  kind: 'device',
  topic: 'use',
  schema: deviceSchema,
  holds: deviceHolds,
  words: deviceWords,
  found: (_condition, { visitor: { device } }) =>
    [device?.category, device?.os, device?.browser].filter(Boolean).join(', ') || 'not recorded',
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'attributes' },
  changes: {},
  reasoning: {
    lists: (a, b) => [
      [a.category, b.category],
      [lower(a.os), lower(b.os)],
      [lower(a.browser), lower(b.browser)],
    ],
  },
  editor: {
    label: 'Uses a device',
    make: () => ({ kind: 'device', category: ['phone'] }),
    rows: [
      [
        { field: 'words', text: 'use' },
        { field: 'ticks', key: 'category', label: 'Device', options: DEVICE_CATEGORIES },
      ],
    ],
  },
  typed: (said) => {
    const text = ` ${said.words.join(' ')} `;
    const met = <T extends string>(table: Readonly<Record<T, readonly string[]>>): T[] =>
      (Object.entries(table) as [T, readonly string[]][]).flatMap(([key, words]) =>
        words.some((word) => text.includes(` ${word} `)) ? [key] : [],
      );
    const [category, os, browser] = [met(CATEGORIES), met(SYSTEMS), met(BROWSERS)];
    if (category.length + os.length + browser.length === 0) return [];
    const also = [CATEGORIES, SYSTEMS, BROWSERS].flatMap((table) => Object.values<readonly string[]>(table).flat());
    const heard = spoken(said, {
      also: [...also, 'use', 'uses', 'using', 'or', 'and', 'device', 'devices', 'any device', 'browser', 'traffic', 'screen', 'screens'],
    });
    if (!heard) return [];
    const leaf: DeviceCondition = {
      kind: 'device',
      ...(category.length ? { category } : {}),
      ...(os.length ? { os } : {}),
      ...(browser.length ? { browser } : {}),
    };
    return [{ leaf, sureness: 3 }];
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('device' as const),
      category: maybe(fc, listExample(fc, DEVICE_CATEGORIES)),
      os: maybe(fc, listExample(fc, ['iOS', 'Linux'])),
    }),
};

const lower = (list: readonly string[] | undefined) => list?.map((one) => one.toLowerCase());

const CATEGORIES: Readonly<Record<(typeof DEVICE_CATEGORIES)[number], readonly string[]>> = {
  phone: [
    'phone',
    'phones',
    'mobile',
    'mobiles',
    'smartphone',
    'smartphones',
    'mobile phone',
    'mobile phones',
    'handy',
    'iphone',
    'iphones',
    'cellphone',
  ],
  tablet: ['tablet', 'tablets', 'ipad', 'ipads'],
  desktop: ['desktop', 'desktops', 'computer', 'computers', 'laptop', 'laptops', 'pc', 'pcs'],
};
/** As they are recorded. */
const SYSTEMS: Readonly<Record<string, readonly string[]>> = {
  iOS: ['ios', 'iphone', 'iphones', 'ipad', 'ipads'],
  Android: ['android'],
  Windows: ['windows'],
  macOS: ['macos', 'mac', 'macs', 'mac os', 'os x'],
  Linux: ['linux'],
};
const BROWSERS: Readonly<Record<string, readonly string[]>> = {
  Chrome: ['chrome'],
  Safari: ['safari'],
  Firefox: ['firefox'],
  'Microsoft Edge': ['edge', 'microsoft edge'],
  Opera: ['opera'],
};
