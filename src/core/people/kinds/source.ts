import { z } from 'zod';
import { CHANNELS } from '../../history/visitor';
import type { Source, Utm } from '../../history/visitor';
import type { Truth } from '../../logic/truth';
import { or } from '../../logic/truth';
import { testWords, textHolds, textTestSchema } from '../../logic/valueTest';
import type { TextTest } from '../../logic/valueTest';
import type { Subject } from '../subject';
import type { PeopleKind } from '../kind';
import { called } from '../../typing/spoken';
import { valueTyped } from '../../typing/valueTyped';
import { listExample, maybe, shape, textTestExample } from '../../testing/examples';

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

export const sourceKind: PeopleKind<SourceCondition, 'server'> = {
  kind: 'source',
  topic: 'comeFrom',
  schema: sourceSchema,
  holds: sourceHolds,
  words: sourceWords,
  found: (_condition, { visitor }) => visitor.visits.at(-1)?.source?.channel ?? 'not recorded',
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: ({ of }) => ((of ?? 'visit') === 'visit' ? 'source' : undefined) },
  changes: {},
  reasoning: {
    lists: (a, b) => ((a.of ?? 'visit') === (b.of ?? 'visit') && a.of !== 'ever' ? [[a.channel, b.channel]] : []),
  },
  editor: {
    label: 'Came from',
    make: () => ({ kind: 'source', of: 'visit', channel: ['email'] }),
    rows: [
      [
        {
          field: 'choice',
          key: 'of',
          label: 'Which visit',
          otherwise: 'visit',
          options: [
            ['visit', 'came now'],
            ['first', 'first came'],
            ['ever', 'ever came'],
          ],
        },
        { field: 'words', text: 'from' },
        { field: 'ticks', key: 'channel', label: 'Channel', options: CHANNELS },
      ],
      [{ field: 'own', part: 'utm' }],
    ],
  },
  typed: ({ raw, text, isNegated, pages, amounts, assignments, window }, { sources, utmCampaigns }) => {
    if (amounts.length || (window !== undefined && window !== 'visit')) return [];
    const plain = (isNegated ? text : raw).replace(/\s+(?:in|during) (?:this|the) (?:visit|session)$/i, '');
    const began =
      /^((?:first|ever|originally|once)(?=\s))?\s*(?:(?:came|come|comes|coming|arrived|arrives|arriving|landed|visit|visits|traffic|visitors?|people|arrivals?|clicked)\s+)*(ever\s+)?(from|via|through|by|with|source|channel|referred by|referrer|referrer is|of)?\s*:?\s*(.*)$/i.exec(
        plain,
      );
    if (!began) return [];
    const [, before = '', ever, preposition, rest = ''] = began;
    const isExplicit = preposition !== undefined || before !== '' || /^(?:came|arriv|traffic)/i.test(plain);
    const of =
      ever || /^ever|^once/i.test(before) ? { of: 'ever' as const } : /^(?:first|originally)/i.test(before) ? { of: 'first' as const } : {};
    const wanted = rest
      .replace(/[“”"]/g, '')
      .replace(/^(?:a |an |the |our )/i, '')
      .replace(/\s+(?:traffic|visitors?|visits?|channel|arrivals?|campaigns?)$/i, '')
      .trim();
    const leaf = (parts: Omit<SourceCondition, 'kind' | 'of'>): SourceCondition => ({ kind: 'source', ...of, ...parts });
    const described = describedTyped(plain);
    if (described) return [{ leaf: leaf(described), sureness: 3.2 }];
    const [assigned] = assignments;
    const key = /^utm_(source|medium|campaign|term|content)$/i.exec(assigned?.key ?? '')?.[1]?.toLowerCase();
    if (assigned && key !== undefined && assignments.length === 1 && assigned.op === '=')
      return [{ leaf: leaf({ utm: { [key]: { op: 'is', value: assigned.value } } }), sureness: 3 }];
    const utm = /^(?:utm[_ ]?)(source|medium|campaign|term|content)\s*:?\s+(.+)$/i.exec(/^utm/i.test(plain) ? plain : wanted);
    if (utm) {
      const test = valueTyped(utm[2] ?? '') ?? { op: 'is' as const, value: (utm[2] ?? '').replace(/^["“](.*)["”]$/, '$1') };
      if (test.op !== 'range' && test.op !== 'daysAgo')
        return [{ leaf: leaf({ utm: { [(utm[1] ?? '').toLowerCase()]: test } }), sureness: 3 }];
    }
    if (pages.length || wanted === '') return [];
    const channels = wanted
      .toLowerCase()
      .split(/\s*,\s*|\s+or\s+/)
      .map((one) => channelCalled(one));
    const [firstChannel] = channels;
    const recorded = [
      ...called(wanted, sources, ({ value }) => value).map(({ one, sureness }) => ({
        leaf: leaf({ utm: { source: { op: 'is', value: one.value } } }),
        sureness: sureness === 1 && isExplicit ? 2.8 : sureness,
      })),
      ...called(wanted, utmCampaigns, ({ value }) => value).map(({ one, sureness }) => ({
        leaf: leaf({ utm: { campaign: { op: 'is', value: one.value } } }),
        sureness: sureness === 1 && isExplicit ? 2.7 : sureness - 0.02,
      })),
    ];
    if (channels.every((one) => one !== undefined) && firstChannel !== undefined) {
      // A newsletter that is a source on record is that source.
      const isSource = wanted.toLowerCase() === 'newsletter' && recorded.some(({ sureness }) => sureness >= 1);
      return [
        { leaf: leaf({ channel: [...new Set(channels)] as SourceCondition['channel'] }), sureness: isSource ? 0.9 : isExplicit ? 3.1 : 3 },
        ...recorded,
      ];
    }
    const host = hostCalled(wanted.toLowerCase());
    if (host !== undefined)
      return [
        { leaf: leaf({ referrer: { op: 'contains', value: host } }), sureness: isExplicit || HOSTS.includes(host) ? 3 : 2 },
        ...recorded,
      ];
    return recorded;
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('source' as const),
      of: maybe(fc, fc.constantFrom('visit' as const, 'first' as const, 'ever' as const)),
      channel: maybe(fc, listExample(fc, CHANNELS)),
      referrer: maybe(fc, textTestExample(fc)),
      utm: maybe(fc, shape(fc, { campaign: maybe(fc, textTestExample(fc)) })),
    }),
};

/** "from email or paid with utm_campaign that starts with “snow”", "from a site that contains “x”": as it describes itself. */
function describedTyped(plain: string): Omit<SourceCondition, 'kind' | 'of'> | undefined {
  const asked = plain.replace(/^(?:first |ever )?came /i, '');
  if (!/ that /.test(asked)) return undefined;
  const parts = asked.split(/\s+(?=with utm_|from a site that )/i);
  let found: Omit<SourceCondition, 'kind' | 'of'> = {};
  for (const part of parts) {
    const utm = /^with utm_(source|medium|campaign|term|content) that (.+)$/i.exec(part);
    const site = /^from a site that (.+)$/i.exec(part);
    const test = valueTyped(utm?.[2] ?? site?.[1] ?? '-');
    const textTest = test !== undefined && test.op !== 'range' && test.op !== 'daysAgo' ? (test as TextTest) : undefined;
    if (utm && textTest) found = { ...found, utm: { ...found.utm, [(utm[1] ?? '').toLowerCase()]: textTest } };
    else if (site && textTest) found = { ...found, referrer: textTest };
    else {
      const channels = part
        .replace(/^from /i, '')
        .split(/,| or /)
        .map((one) => channelCalled(one.trim()));
      if (!channels.every((one) => one !== undefined)) return undefined;
      found = { ...found, channel: channels };
    }
  }
  return found;
}

const CALLED: Readonly<Record<(typeof CHANNELS)[number], readonly string[]>> = {
  paid: [
    'paid',
    'ads',
    'ad',
    'ppc',
    'cpc',
    'advertising',
    'advertisement',
    'advertisements',
    'paid search',
    'paid social',
    'display',
    'paid ads',
  ],
  email: ['email', 'emails', 'e-mail', 'mail', 'mailing', 'newsletter', 'newsletters'],
  social: ['social', 'social media', 'social networks', 'social network'],
  search: ['search', 'organic', 'organic search', 'seo', 'search engine', 'search engines'],
  referral: ['referral', 'referrals', 'other site', 'other sites', 'another site', 'other websites', 'links', 'a link'],
  direct: ['direct', 'directly', 'typed in', 'bookmark'],
};
const channelCalled = (word: string): (typeof CHANNELS)[number] | undefined => CHANNELS.find((channel) => CALLED[channel].includes(word));

/** Sites that people name without their ending. */
const HOSTS = [
  'google',
  'bing',
  'duckduckgo',
  'ecosia',
  'yahoo',
  'facebook',
  'instagram',
  'linkedin',
  'pinterest',
  'reddit',
  'tiktok',
  'twitter',
  'youtube',
];
const hostCalled = (word: string): string | undefined =>
  HOSTS.includes(word) || /^[a-z0-9-]+(?:\.[a-z0-9-]+)*\.[a-z]{2,}$/.test(word) ? word : undefined;
