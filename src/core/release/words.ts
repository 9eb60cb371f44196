// What one release changes against another, in plain words.
import type { Brand } from '../brand/brand';
import type { CampaignDocument } from '../campaigns/campaign';
import { plainGoal } from '../campaigns/goals';
import type { Flow } from '../flows/flow';
import type { Budget } from '../pacing/pacing';
import type { WordsFor } from '../pages/names';
import { whereWords } from '../people/kinds/did';
import { patternWords } from '../pages/pattern';
import type { PagePattern } from '../pages/pattern';
import { describeRule, sentenceOf } from '../rules/describe';
import type { Family } from '../rules/describe';
import type { Rule } from '../rules/schema';

/** What a release was made of. */
export interface ReleaseSource {
  /** In the order in which they decide. */
  readonly campaigns: readonly (CampaignDocument & { readonly id: string })[];
  readonly budget: Budget;
  readonly brand: Brand;
}

export interface ToldChange {
  /** Empty for what is the whole site's. */
  readonly campaign: string;
  readonly name: string;
  /** "now also on /courses/**": each goes on from the name. */
  readonly words: readonly string[];
}

const LIST = new Intl.ListFormat('en-GB');

/** Everything that `after` changes, campaign by campaign in its order, and the whole site's last. Nothing changed gives an empty list. */
export function changesInWords(before: ReleaseSource | undefined, after: ReleaseSource, names: WordsFor): ToldChange[] {
  const old = new Map((before?.campaigns ?? []).map((one) => [one.id, one]));
  const now = new Set(after.campaigns.map(({ id }) => id));
  const told = after.campaigns.flatMap((campaign): ToldChange[] => {
    const was = old.get(campaign.id);
    const words = was ? campaignWords(was, campaign, names) : ['goes live'];
    return words.length ? [{ campaign: campaign.id, name: campaign.name, words }] : [];
  });
  const gone = [...old.values()].flatMap(({ id, name }) => (now.has(id) ? [] : [{ campaign: id, name, words: ['is taken off'] }]));
  const order = (source: ReleaseSource, other: { has: (id: string) => boolean }): string =>
    JSON.stringify(source.campaigns.flatMap(({ id }) => (other.has(id) ? [id] : [])));
  const whole = (name: string, is: boolean): ToldChange[] => (before && is ? [{ campaign: '', name, words: ['is changed'] }] : []);
  return [
    ...told,
    ...gone,
    ...whole('The order of campaigns', before !== undefined && order(before, now) !== order(after, old)),
    ...whole('The site’s budget', !isSame(before?.budget, after.budget)),
    ...(before && !isSame(before.brand, after.brand)
      ? [{ campaign: '', name: THE_BRAND, words: brandWords(before.brand, after.brand) }]
      : []),
  ];
}

/** As it is called where something of the whole site's is told. */
export const THE_BRAND = 'The brand';

/** What a brand has become, each to go on from its name. */
function brandWords(was: Brand, is: Brand): string[] {
  const one = <K extends 'colour' | 'corners' | 'font'>(key: K, called: string): string[] =>
    was[key] === is[key] ? [] : [is[key] === undefined ? `has no ${called} of its own any more` : `has the ${called} ${is[key]} now`];
  const several = (key: 'senders' | 'values', called: string): string[] => {
    const [old, now] = [was, is].map((brand) => new Map((brand[key] ?? []).map((member) => [member.name, member])));
    const changed = [...(now?.keys() ?? [])].filter((name) => !isSame(old?.get(name), now?.get(name)));
    const gone = [...(old?.keys() ?? [])].filter((name) => !now?.has(name));
    const told = (names: readonly string[]): string => LIST.format(names.map((name) => `“${name}”`));
    return [
      ...(changed.length ? [`has ${told(changed)} otherwise or anew among its ${called}`] : []),
      ...(gone.length ? [`has no ${told(gone)} any more among its ${called}`] : []),
    ];
  };
  return [
    ...one('colour', 'colour'),
    ...one('corners', 'corners'),
    ...one('font', 'font'),
    ...(isSame(was.logo, is.logo) ? [] : [is.logo ? 'has another logo' : 'has no logo any more']),
    ...several('senders', 'senders'),
    ...several('values', 'values'),
  ];
}

/** What one campaign has become, each to go on from its name. Nothing changed gives an empty list. */
export function campaignWords(was: CampaignDocument, is: CampaignDocument, names: WordsFor): string[] {
  return [
    ...(was.name === is.name ? [] : [`was called “${was.name}”`]),
    ...(isSame(was.rule.people, is.rule.people)
      ? []
      : [`is now for ${is.rule.people === undefined ? 'everyone' : `people who ${partOf(is.rule, 'people', names)}`}`]),
    ...pagesWords(was.rule, is.rule, names),
    ...(isSame(was.rule.moment, is.rule.moment) ? [] : [`shows now when they ${partOf(is.rule, 'moment', names)}`]),
    ...(isSame(was.rule.pacing ?? {}, is.rule.pacing ?? {}) ? [] : [`shows now ${partOf(is.rule, 'pacing', names)}`]),
    ...(isSame(plainGoal(was.goal), plainGoal(is.goal)) ? [] : [`counts ${goalWords(is, names)} as success now`]),
    ...flowWords(was.flow, is.flow),
    ...(isSame(was.variants, is.variants)
      ? []
      : [is.variants ? `is dealt to ${is.variants.length} variants now` : 'has no variants any more']),
    ...((was.holdout ?? 0) === (is.holdout ?? 0) ? [] : [`${Math.round((is.holdout ?? 0) * 100)} of 100 see nothing now`]),
  ];
}

/** The words of one family in the rule's sentence. */
const partOf = (rule: Rule, family: Family, names: WordsFor): string => {
  const phrases = describeRule(rule, names);
  const own = phrases.flatMap((phrase, index) => (phrase.family === family ? [index] : []));
  return sentenceOf(phrases.slice(own[0] ?? 0, (own.at(-1) ?? -1) + 1));
};

function pagesWords(was: Rule, is: Rule, names: WordsFor): string[] {
  const side = (field: 'on' | 'except', more: string, less: string): string[] => {
    const [old, now] = [was.pages?.[field] ?? [], is.pages?.[field] ?? []];
    const [added, gone] = [without(now, old), without(old, now)];
    if (field === 'on' && now.length === 0 && gone.length) return ['is now on any page'];
    const told = (patterns: readonly PagePattern[]): string => LIST.format(patterns.map((pattern) => patternWords(pattern, names.set)));
    const also = field === 'on' && old.length > 0 && gone.length === 0 ? 'also ' : '';
    return [...(added.length ? [`${more.replace('also ', also)} ${told(added)}`] : []), ...(gone.length ? [`${less} ${told(gone)}`] : [])];
  };
  return [...side('on', 'is now also on', 'is no longer on'), ...side('except', 'is not on', 'is again on')];
}

const without = (patterns: readonly PagePattern[], others: readonly PagePattern[]): PagePattern[] =>
  patterns.filter((pattern) => !others.some((other) => isSame(pattern, other)));

function goalWords({ goal }: CampaignDocument, names: WordsFor): string {
  if (goal.kind === 'form') return 'a form that is sent';
  if (goal.kind === 'reply') return 'a reply';
  if (goal.kind === 'event') return `“${goal.event}”${whereWords(goal.where)} within ${goal.days} days`;
  return `${LIST.format(goal.pages.map((pattern) => patternWords(pattern, names.set)))} within ${goal.days} days`;
}

function flowWords(was: Flow, is: Flow): string[] {
  const old = new Map(was.messages.map((message) => [message.id, message]));
  const now = new Set(is.messages.map(({ id }) => id));
  const added = is.messages.filter(({ id }) => !old.has(id));
  const changed = is.messages.filter((message) => old.has(message.id) && !isSame(old.get(message.id), message));
  const gone = was.messages.filter(({ id }) => !now.has(id));
  const told = (messages: readonly { readonly id: string }[]): string => LIST.format(messages.map(({ id }) => `“${id}”`));
  return [
    ...(added.length ? [`has ${told(added)} in addition`] : []),
    ...(changed.length ? [`says or looks otherwise in ${told(changed)}`] : []),
    ...(gone.length ? [`has no ${told(gone)} any more`] : []),
    ...(was.start === is.start ? [] : [`begins at “${is.start}” now`]),
  ];
}

/** Equal as JSON, in whatever order the keys come. */
const isSame = (a: unknown, b: unknown): boolean => canonical(a) === canonical(b);
const canonical = (value: unknown): string =>
  JSON.stringify(value ?? null, (_key, one: unknown) =>
    typeof one === 'object' && one !== null && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([x], [y]) => (x < y ? -1 : 1)))
      : one,
  );
