import { z } from 'zod';
import { WEATHERS } from '../../history/visitor';
import { inRange, rangeSchema, rangeWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import { and } from '../../logic/truth';
import type { Subject } from '../subject';
import type { PeopleKind } from '../kind';
import { rangeOf as rangeSaid, spoken } from '../../typing/spoken';
import { listExample, maybe, rangeExample, shape } from '../../testing/examples';

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

export const weatherKind: PeopleKind<WeatherCondition, 'server'> = {
  kind: 'weather',
  topic: 'comeFrom',
  schema: weatherSchema,
  holds: weatherHolds,
  words: weatherWords,
  found: (_condition, { visitor: { weather } }) =>
    weather ? [weather.is, weather.celsius === undefined ? undefined : `${weather.celsius} °C`].filter(Boolean).join(', ') : 'not recorded',
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'weather' },
  changes: {},
  reasoning: { lists: (a, b) => [[a.is, b.is]] },
  editor: {
    label: 'Has weather',
    make: () => ({ kind: 'weather', is: ['snow'] }),
    rows: [
      [
        { field: 'words', text: 'weather' },
        { field: 'ticks', key: 'is', label: 'Weather', options: WEATHERS },
        {
          field: 'range',
          key: 'celsius',
          label: 'Degrees',
          least: -60,
          most: 60,
          unit: '°C',
          optional: { words: 'and a temperature', start: { max: 0 } },
        },
      ],
    ],
  },
  typed: (said) => {
    const is = WEATHERS.filter((one) => SAYS[one].some((word) => said.words.includes(word)));
    const heard = spoken(said, {
      also: [
        ...is.flatMap((one) => SAYS[one]),
        'weather',
        'outside',
        'there',
        'where',
        'temperature',
        'cold',
        'warm',
        'hot',
        'or',
        'and',
        'freezing',
        'frost',
        'freezes',
        'it',
        'celsius',
      ],
      amounts: ['degrees', 'none'],
    });
    if (!heard) return [];
    const [amount] = heard.amounts;
    const isFreezing = /\b(?:freezing|frost|freezes)\b/.test(said.text) && !amount;
    if (amount && amount.unit === undefined && !/weather|temperature|cold|warm|hot|snow|rain/.test(said.text)) return [];
    const celsius = amount ? rangeSaid(amount) : isFreezing ? { max: 0 } : undefined;
    if (is.length === 0 && !celsius) return [];
    return [{ leaf: { kind: 'weather', ...(is.length ? { is } : {}), ...(celsius ? { celsius } : {}) }, sureness: 3 }];
  },
  example: (fc) =>
    shape(fc, { kind: fc.constant('weather' as const), is: maybe(fc, listExample(fc, WEATHERS)), celsius: maybe(fc, rangeExample(fc, 9)) }),
};

const SAYS: Readonly<Record<(typeof WEATHERS)[number], readonly string[]>> = {
  clear: ['clear', 'sun', 'sunny', 'sunshine', 'fine'],
  cloud: ['cloud', 'clouds', 'cloudy', 'overcast'],
  fog: ['fog', 'foggy', 'mist', 'misty'],
  rain: ['rain', 'rains', 'raining', 'rainy', 'wet', 'drizzle', 'showers'],
  snow: ['snow', 'snows', 'snowing', 'snowy', 'snowfall'],
  storm: ['storm', 'storms', 'stormy', 'thunder', 'thunderstorm', 'thunderstorms'],
};
