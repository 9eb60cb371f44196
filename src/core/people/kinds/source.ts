import { z } from 'zod';
import { CHANNELS } from '../../history/visitor';
import type { Source, Utm } from '../../history/visitor';
import type { Truth } from '../../rules/truth';
import { or } from '../../rules/truth';
import { testWords, textHolds, textTestSchema } from '../../rules/valueTest';
import type { TextTest } from '../../rules/valueTest';
import type { Subject } from '../subject';

const test = () => textTestSchema().optional();

export const sourceSchema = () =>
  z.strictObject({
    kind: z.literal('source'),
    of: z.enum(['visit', 'first', 'ever']).optional(),
    channel: z.array(z.enum(CHANNELS)).min(1).optional(),
    referrer: test(),
    utm: z.strictObject({ source: test(), medium: test(), campaign: test(), term: test(), content: test() }).optional(),
  });
export type SourceCondition = z.infer<ReturnType<typeof sourceSchema>>;

/** All parts hold for one and the same visit: the current one, the first one, or some one. */
export function sourceHolds(condition: SourceCondition, { visitor: { visits } }: Subject): Truth {
  const asked = condition.of === 'ever' ? visits : condition.of === 'first' ? visits.slice(0, 1) : visits.slice(-1);
  return asked.length === 0 ? null : or(asked.map(({ source }) => partsHold(condition, source)));
}

function partsHold({ channel, referrer, utm }: SourceCondition, source: Source | undefined): Truth {
  if (!source) return null;
  if (channel && !channel.includes(source.channel)) return false;
  if (referrer && !textHolds(source.referrer, referrer)) return false;
  return utmTests(utm).every(([key, one]) => textHolds(source.utm[key], one));
}

function utmTests(utm: SourceCondition['utm']): [keyof Utm, TextTest][] {
  return Object.entries(utm ?? {}).flatMap(([key, one]) => (one ? [[key as keyof Utm, one] as [keyof Utm, TextTest]] : []));
}

const VISITS = { visit: 'came', first: 'first came', ever: 'ever came' } as const;

export function sourceWords({ of, channel, referrer, utm }: SourceCondition): string {
  const parts = [
    ...(channel ? [`from ${channel.join(' or ')}`] : []),
    ...(referrer ? [`from a site that ${testWords(referrer)}`] : []),
    ...utmTests(utm).map(([key, one]) => `with utm_${key} that ${testWords(one)}`),
  ];
  return `${VISITS[of ?? 'visit']} ${parts.length ? parts.join(' ') : 'from anywhere'}`;
}
