import { z } from 'zod';
import { WEATHERS } from '../../history/visitor';
import { inRange, rangeSchema, rangeWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import { and } from '../../rules/truth';
import type { Subject } from '../subject';

export const weatherSchema = () =>
  z.strictObject({ kind: z.literal('weather'), is: z.array(z.enum(WEATHERS)).min(1).optional(), celsius: rangeSchema().optional() });
export type WeatherCondition = z.infer<ReturnType<typeof weatherSchema>>;

export function weatherHolds({ is, celsius }: WeatherCondition, { visitor: { weather } }: Subject): Truth {
  if (!weather) return null;
  return and([
    !is ? true : weather.is === undefined ? null : is.includes(weather.is),
    !celsius ? true : weather.celsius === undefined ? null : inRange(weather.celsius, celsius),
  ]);
}

export function weatherWords({ is, celsius }: WeatherCondition): string {
  const parts = [...(is ? [is.join(' or ')] : []), ...(celsius ? [rangeWords(celsius, '°C')] : [])];
  return `have ${parts.length ? parts.join(' and ') : 'any'} weather`;
}
