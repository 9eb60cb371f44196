import { z } from 'zod';
import { DEVICE_CATEGORIES } from '../../history/visitor';
import type { Truth } from '../../rules/truth';
import { and } from '../../rules/truth';
import type { Subject } from '../subject';

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
