import { z } from 'zod';
import { DEVICE_CATEGORIES } from '../history/visitor';
import type { Device } from '../history/visitor';
import type { Fact } from './fact';

const name = () => z.string().max(200).optional();

/** What the browser runs on, as its user agent tells it. */
export const deviceFact: Fact<Device, 'agent'> = {
  from: 'agent',
  schema: () => z.strictObject({ category: z.enum(DEVICE_CATEGORIES).optional(), os: name(), browser: name() }),
  columns: [
    { name: 'device_category', type: 'text', of: ({ category }) => category },
    { name: 'device_os', type: 'text', of: ({ os }) => os },
    { name: 'device_browser', type: 'text', of: ({ browser }) => browser },
  ],
  value: (category, os, browser) => {
    const known = Object.entries({ category, os, browser }).filter(([, part]) => part !== null && part !== undefined);
    return known.length > 0 ? Object.fromEntries(known) : undefined;
  },
  pretend: () => z.strictObject({ category: z.enum(DEVICE_CATEGORIES), os: name(), browser: name() }),
  example: (fc) =>
    fc.record(
      { category: fc.constantFrom(...DEVICE_CATEGORIES), os: fc.constantFrom('iOS', 'Linux'), browser: fc.constant('Chrome') },
      { requiredKeys: ['browser'] },
    ),
};
