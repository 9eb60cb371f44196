import { campaignPrint, canonical } from '@/core/release/print';
import { createHash } from 'node:crypto';
import type { Brand } from '@/core/brand/brand';
import { brandedFlow, missingValues } from '@/core/brand/brand';
import { siteValuesIn } from '@/core/brand/siteValues';
import type { Flow } from '@/core/flows/flow';
import { flowSchema } from '@/core/flows/flow';
import { issueWords, parseWith } from '@/core/parsing/parse';
import type { Release, ReleasedFacts } from '@/core/release/release';
import { compileRelease } from '@/core/release/release';
import type { FlowFinding } from '@/core/flows/checks';
import { peopleIn } from '@/core/flows/forSome';
import { checkFlow } from '@/core/flows/checks';
import { unfinishedIn } from '@/core/flows/unfinished';
import { keyOf } from '@/core/messages/merge';
import type { Database } from '../db/directory';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import type { StoredCampaign } from '../db/campaigns';
import { documentOf, listCampaigns } from '../db/campaigns';
import type { Budget } from '@/core/pacing/pacing';
import type { ReleaseSource, ToldChange } from '@/core/release/words';
import { changesInWords, THE_BRAND } from '@/core/release/words';
import { maybeOne, NotExactlyOneRow } from '../db/queryable';
import { loadNames } from '../db/recorded';
import { findCurrentRelease, findRelease, insertRelease, nextReleaseNumber } from '../db/releases';
import { loadPageSets, loadPlaces, pageSets } from '../db/vocabulary';
import { picturesIn } from '@/core/messages/pictures';
import { findPictureSizes } from '../db/pictures';
import { seldom } from '../db/seldom';
import { offeredNames } from '../visitors/values';
import { findSite } from '../db/sites';
import { lintRule } from '@/core/rules/lint';
import { loadLintContext } from '../lint/context';
import { segmentBodies, segmentsNamedIn } from '../segments/bodies';

/** Why a campaign cannot be published as it stands. */
export interface Blocker {
  readonly campaign: string;
  readonly name: string;
  readonly reason: string;
}

export class NotPublishable extends Error {
  readonly code = 'release.blocked';
  constructor(readonly blockers: readonly Blocker[]) {
    super(blockers.map(({ name, reason }) => `“${name}”: ${reason}`).join('; '));
  }
}

/** What would go out is not what was looked at; nothing was published. */
export class ChangedMeanwhile extends Error {
  readonly code = 'release.changed';
}

export interface Change {
  /** Empty for what is the whole site's. */
  readonly campaign: string;
  readonly name: string;
  readonly what: 'added' | 'changed' | 'removed' | 'order' | 'budget' | 'brand';
  /** Each goes on from the name: "is now also on /courses/**". Empty where the last release did not keep what it was made of. */
  readonly words: readonly string[];
}

export interface NextRelease {
  readonly number: number;
  readonly document: Release;
  readonly facts: ReleasedFacts;
  /** Of everything that would go out: two that are alike are the same. */
  readonly print: string;
  /** What it was made of. */
  readonly source: ReleaseSource;
  readonly changes: readonly Change[];
  readonly blockers: readonly Blocker[];
  /** What keeps a campaign from showing, or nearly, and what was most likely not meant to go out as it is. It may be published all the same. */
  readonly warnings: readonly Blocker[];
}

/** What publishing now would make, and how it differs from what is live. `now`: UTC ms; `warns`: whether what could go wrong is looked for. */
export async function prepareRelease(
  db: Queryable,
  siteId: number,
  { now = Date.now(), warns = true }: { now?: number; warns?: boolean } = {},
): Promise<NextRelease> {
  const [site, campaigns, segments, current, list] = [
    await findSite(db, siteId),
    await listCampaigns(db, siteId),
    await segmentBodies(db, siteId),
    await findCurrentRelease(db, siteId),
    await pageSets.list(db, siteId),
  ];
  const sets = Object.fromEntries(list.map(({ id, patterns }) => [id, patterns]));
  const setNames = Object.fromEntries(list.map(({ id, name }) => [id, name]));
  // A campaign that starts later is published with the others, and held back until then.
  const live = campaigns.filter(({ status }) => status === 'live' || status === 'scheduled');
  const number = (current?.number ?? 0) + 1;
  const brand = site?.brand ?? {};
  const sizes = await findPictureSizes(db, siteId, picturesIn([brand, live.map(({ flow }) => flow)]));
  const { release, facts } = compileRelease(live, { number, budget: site?.budget ?? {}, segments, sets, brand, setNames, sizes });
  const source = sourceOf(live, site?.budget ?? {}, brand);
  const changes = changesBetween(current?.document, release, { campaigns, facts: current?.facts ?? [], newFacts: facts });
  // Every screen asks how many there are: in words they are put only where there are any.
  const told = async (): Promise<Change[]> =>
    withWords(changes, changesInWords(current?.source ?? undefined, source, await loadNames(db, siteId)));
  return {
    number,
    document: release,
    facts,
    print: createHash('sha256')
      .update(JSON.stringify([release, facts]))
      .digest('base64url')
      .slice(0, 16),
    source,
    changes: changes.length === 0 || current?.source === null ? changes.map((change) => ({ ...change, words: [] })) : await told(),
    blockers: live.flatMap((campaign) => blockersOf(campaign, segments, brand)),
    warnings: warns ? await warningsOf(db, siteId, { live, now, hasPicture: (hash) => sizes.has(hash) }) : [],
  };
}

async function warningsOf(
  db: Queryable,
  siteId: number,
  { live, now, hasPicture }: { live: readonly StoredCampaign[]; now: number; hasPicture: (hash: string) => boolean },
): Promise<Blocker[]> {
  if (live.length === 0) return [];
  const [context, offered] = await Promise.all([
    loadLintContext(db, siteId, now),
    seldom(db, `names of values ${siteId}`, () => offeredNames(db, siteId), { freshMs: NAMES_FRESH_MS }),
  ]);
  const values = [...offered.names.map(keyOf), 'city'];
  return live.flatMap((campaign) => {
    const { id, name, rule } = campaign;
    const ofRule = lintRule(rule, context)
      .filter(({ severity, code }) => severity !== 'note' && code !== 'segment.gone')
      .map(({ severity, message }) => `${severity === 'never' ? 'can never show' : 'can hardly show'}: ${message}`);
    return [...ofRule, ...unfinishedIn(campaign, { now, values, hasPicture })].map((reason) => ({ campaign: id, name, reason }));
  });
}

/** Every screen asks; what visitors are known by is seldom another. */
const NAMES_FRESH_MS = 60_000;

const REASONS: Partial<Record<FlowFinding['code'], string>> = {
  'flow.noWayToClose': 'one of its messages has no way to close it',
  'flow.unknownMessage': 'a button leads to a message that is not there',
  'conversation.unknownStep': 'an answer leads to a step that is not there',
  'conversation.sameId': 'two steps of a conversation have the same id',
};

function blockersOf(
  { id, name, rule, flow, variants }: StoredCampaign,
  segments: Readonly<Record<string, unknown>>,
  brand: Brand,
): Blocker[] {
  const named = [rule.people, ...peopleIn(flow)].flatMap(segmentsNamedIn);
  const missing = [...new Set(named)].filter((segment) => !segments[segment]);
  return [
    ...missing.map((segment) => ({ campaign: id, name, reason: `it asks for the segment ${segment}, which no longer exists` })),
    ...missingValues(flow, brand).map((value) => ({
      campaign: id,
      name,
      reason: `it names {${value}}, which is none of the site’s values (Setup, Brand), with nothing to say instead`,
    })),
    ...misfits(flow, brand).map((reason) => ({ campaign: id, name, reason })),
    ...checkFlow(flow, variants)
      .filter(({ severity }) => severity === 'error')
      .map(({ code, message }) => ({ campaign: id, name, reason: `${REASONS[code] ?? code} (message ${message})` })),
  ];
}

/** What a value of the site, or what is said instead of one, makes of an address or a number that it cannot be. */
function misfits(flow: Flow, brand: Brand): string[] {
  if (siteValuesIn(flow).length === 0) return [];
  const parsed = parseWith(flowSchema(), brandedFlow(flow, brand));
  return parsed.ok ? [] : parsed.issues.map((issue) => `with the site’s values put in, ${issueWords(issue)}`);
}

const sourceOf = (campaigns: readonly StoredCampaign[], budget: Budget, brand: Brand): ReleaseSource => ({
  campaigns: campaigns.map((campaign) => ({ id: campaign.id, ...documentOf(campaign) })),
  budget,
  brand,
});

/** What changed for pages, in the words that there are; a change of a segment or a page set alone has none of its own. */
function withWords(changes: readonly Omit<Change, 'words'>[], told: readonly ToldChange[]): Change[] {
  // The brand changes what goes out by what it is in campaigns: its own line says why they do.
  const brand = told.filter(({ name, campaign }) => campaign === '' && name === THE_BRAND);
  const worded = changes.map((change): Change => {
    const words = told.find(({ campaign, name }) => (change.campaign ? campaign === change.campaign : name === change.name))?.words ?? [];
    const isByBrand = words.length === 0 && change.what === 'changed' && brand.length > 0;
    return { ...change, words: isByBrand ? ['is as the brand is now'] : words };
  });
  return changes.length === 0 ? worded : [...brand.map((one): Change => ({ ...one, what: 'brand' })), ...worded];
}

function changesBetween(
  before: Release | undefined,
  after: Release,
  { campaigns, facts, newFacts }: { campaigns: readonly StoredCampaign[]; facts: ReleasedFacts; newFacts: ReleasedFacts },
): Omit<Change, 'words'>[] {
  const nameOf = (id: string): string => campaigns.find((campaign) => campaign.id === id)?.name ?? id;
  const old = new Map((before?.campaigns ?? []).map((campaign) => [campaign.id, campaignPrint(campaign, facts)]));
  const changes: Omit<Change, 'words'>[] = after.campaigns.flatMap((campaign): Omit<Change, 'words'>[] => {
    const known = old.get(campaign.id);
    if (known === undefined) return [{ campaign: campaign.id, name: nameOf(campaign.id), what: 'added' }];
    return known === campaignPrint(campaign, newFacts) ? [] : [{ campaign: campaign.id, name: nameOf(campaign.id), what: 'changed' }];
  });
  const kept = new Set(after.campaigns.map(({ id }) => id));
  const orderOf = (release: Release, other: ReadonlySet<string>): string =>
    release.campaigns.flatMap(({ id }) => (other.has(id) ? [id] : [])).join(' ');
  const isReordered = before !== undefined && orderOf(before, kept) !== orderOf(after, new Set(old.keys()));
  const isOtherBudget = before !== undefined && canonical(before.budget) !== canonical(after.budget);
  return [
    ...(isReordered ? [{ campaign: '', name: 'The order of campaigns', what: 'order' as const }] : []),
    ...(isOtherBudget ? [{ campaign: '', name: 'The site’s budget', what: 'budget' as const }] : []),
    ...changes,
    ...[...old.keys()]
      .filter((id) => !kept.has(id))
      .map((id): Omit<Change, 'words'> => ({ campaign: id, name: nameOf(id), what: 'removed' })),
  ];
}

/** Makes the next release. `seen`: the print of what was looked at before. @throws NotPublishable with everything that stands in the way, ChangedMeanwhile */
export async function publish(
  pool: Database | Queryable,
  {
    siteId,
    memberId,
    name,
    note,
    seen,
  }: { siteId: number; memberId: number | null; name: string; note: string; seen?: string | undefined },
): Promise<number> {
  return withTransaction(pool, async (tx) => {
    await nextReleaseNumber(tx, siteId);
    const { number, document, facts, source, blockers, print, changes } = await prepareRelease(tx, siteId, { warns: false });
    if (seen !== undefined && seen !== print) throw new ChangedMeanwhile(await meanwhile(tx, siteId, { number, changes }));
    if (blockers.length) throw new NotPublishable(blockers);
    await insertRelease(tx, {
      siteId,
      memberId,
      name: name || `Release ${number}`,
      note,
      document,
      facts,
      source,
      sets: await loadPageSets(tx, siteId),
      places: await loadPlaces(tx, siteId),
    });
    return number;
  });
}

async function meanwhile(
  tx: Queryable,
  siteId: number,
  { number, changes }: { number: number; changes: readonly Change[] },
): Promise<string> {
  const last = await maybeOne<{ by: string | null; at: Date }>(
    tx,
    `select member.name as by, published_at as at from release left join member on member.id = release.member_id
      where release.site_id = $1 and number = $2 and published_at > now() - interval '1 day'`,
    [siteId, number - 1],
  );
  const before = last ? ` Release ${number - 1} is of ${last.by ?? 'somebody'}, ${last.at.toISOString().slice(11, 16)} UTC.` : '';
  const left =
    changes.length === 0 ? 'Nothing is left to publish.' : `Release ${number} would change: ${changes.map(({ name }) => name).join(', ')}.`;
  return `Somebody changed or published something since you looked, and nothing was published now.${before} ${left} Look again.`;
}

/** Publishes an earlier release once more, as the next one: pages get just what they got then. Drafts stay as they are. @throws NotExactlyOneRow */
export async function goBack(
  pool: Database | Queryable,
  { siteId, memberId, to, note }: { siteId: number; memberId: number | null; to: number; note: string },
): Promise<number> {
  return withTransaction(pool, async (tx) => {
    const number = await nextReleaseNumber(tx, siteId);
    const earlier = await findRelease(tx, siteId, to);
    if (!earlier) throw new NotExactlyOneRow(0);
    const { document, facts, sets, places, source, name } = earlier;
    await insertRelease(tx, {
      siteId,
      memberId,
      name: `Back to ${to}: ${name}`.slice(0, 200),
      note,
      document: { ...document, number },
      facts,
      sets,
      places,
      source,
      backTo: to,
    });
    return number;
  });
}
