import type { Brand } from '../brand/brand';
import { brandedFlow } from '../brand/brand';
import type { Goal } from '../campaigns/campaign';
import { plainGoal } from '../campaigns/goals';
import type { Split } from '../campaigns/assign';
import type { Flow } from '../flows/flow';
import { startOf } from '../flows/flow';
import { mapBlocks } from '../flows/forSome';
import type { Block } from '../messages/block';
import { allBlocks, blockKindOf } from '../messages/block';
import { keyOf, namesIn } from '../messages/merge';
import type { PictureSizes } from '../messages/pictures';
import { withFittingPictures } from '../messages/pictures';
import { withSetIds } from '../messages/values';
import { placeOf } from '../messages/message';
import type { Moment } from '../moments/moment';
import type { Budget, Pacing } from '../pacing/pacing';
import type { Placement } from '../pacing/placement';
import type { Pages } from '../pages/pages';
import type { PagePattern, PageSets, PlainPattern } from '../pages/pattern';
import type { PageCondition, PeopleCondition } from '../people/condition';
import type { SegmentBody } from '../people/subject';
import { writeOut } from '../people/writeOut';
import type { Expr } from '../logic/expr';
import { leavesOf, mapLeaves } from '../logic/expr';
import { isJudgedInPage } from '../people/condition';
import type { FactRef, PageLeaf } from '../people/inPage';
import type { Rule } from '../rules/schema';

export interface ReleasedCampaign extends Split {
  readonly id: string;
  readonly place: Placement;
  readonly people?: Expr<PageLeaf> | undefined;
  readonly pages: Pages;
  readonly moment?: Expr<Moment> | undefined;
  readonly pacing: Pacing;
  readonly goal: Goal;
  readonly flow: Flow;
  /** Some block of the flow is drawn by a part of its own. */
  readonly extras?: true | undefined;
}

/** What the page loads: immutable, named by its hash. */
export interface Release {
  readonly version: 1;
  readonly number: number;
  readonly budget: Budget;
  readonly campaigns: readonly ReleasedCampaign[];
  /** Selectors that a moment names. */
  readonly watch: readonly string[];
  /** Values of the visitor that messages put in: asked of the collector. */
  readonly values: readonly string[];
}

/** What stays with the collector: the conditions behind the facts, in the order of their index. */
export type ReleasedFacts = readonly PeopleCondition[];

export interface CampaignToRelease extends Split {
  readonly id: string;
  readonly rule: Rule;
  readonly goal: Goal;
  readonly flow: Flow;
}

/** Segments are written out, page sets and the site's looks and values put in, and every condition that needs the server becomes a fact; equal ones share it. */
export function compileRelease(
  campaigns: readonly CampaignToRelease[],
  {
    number,
    budget,
    segments,
    sets,
    brand = {},
    setNames = {},
    sizes = new Map(),
    judgedInPage = isJudgedInPage,
  }: {
    number: number;
    budget: Budget;
    segments: Readonly<Record<string, SegmentBody>>;
    sets: PageSets;
    brand?: Brand;
    setNames?: Readonly<Record<string, string>>;
    /** Smaller versions of pictures, by hash. */
    sizes?: ReadonlyMap<string, PictureSizes>;
    /** Conditions that stay in the page; all others are facts. */
    judgedInPage?: (condition: PeopleCondition) => boolean;
  },
): { release: Release; facts: ReleasedFacts } {
  const facts: PeopleCondition[] = [];
  const indexOf = new Map<string, number>();
  const factFor = (condition: PeopleCondition): FactRef => {
    const key = JSON.stringify(condition);
    let index = indexOf.get(key);
    if (index === undefined) {
      index = facts.push(condition) - 1;
      indexOf.set(key, index);
    }
    return { kind: 'fact', index };
  };
  const toPage = (people: Expr<PeopleCondition>): Expr<PageLeaf> =>
    mapLeaves(writeOut(people, segments, []), (leaf): PageLeaf => (judgedInPage(leaf) ? (leaf as PageCondition) : factFor(leaf)));
  const setIds = new Map(Object.entries(setNames).map(([id, name]) => [keyOf(name), id]));
  const released = campaigns.map(({ id, rule, goal, flow: drawn, holdout, variants }): ReleasedCampaign => {
    const waitsFor = new Map<string, Expr<PageLeaf>>();
    const waitFor = (leaf: PageLeaf): void => void waitsFor.set(JSON.stringify(leaf), eitherWay(leaf));
    // What the page is told of a block's people is no condition of the studio's any more, but stands where it stood.
    const flow = mapBlocks(
      withFittingPictures(withSetIds(brandedFlow(drawn, brand), setIds), (hash) => sizes.get(hash)),
      (block) => {
        if (!block.for) return block;
        const people = toPage(block.for);
        const leaves = leavesOf(people).map(({ leaf }) => leaf);
        if (leaves.some(({ kind }) => kind === 'fact')) waitFor(factFor(EVERYBODYS));
        leaves.filter(({ kind }) => kind === 'adBlocker').forEach(waitFor);
        return { ...block, for: people as unknown as Expr<PeopleCondition> };
      },
    );
    const people = allOf([...(rule.people ? [toPage(rule.people)] : []), ...waitsFor.values()]);
    return {
      id,
      place: placeOf(startOf(flow)),
      ...(people ? { people } : {}),
      pages: putIn(rule.pages ?? {}, sets),
      moment: rule.moment,
      pacing: rule.pacing ?? {},
      goal: releasedGoal(goal, sets),
      flow,
      ...(hasExtras(flow) ? { extras: true as const } : {}),
      ...(holdout ? { holdout } : {}),
      ...(variants ? { variants } : {}),
    };
  });
  return {
    release: {
      version: 1,
      number,
      budget,
      campaigns: released,
      watch: selectorsOf(released),
      values: namesIn(released.map(({ flow }) => flow)),
    },
    facts,
  };
}

const hasExtras = ({ messages }: Flow): boolean =>
  messages.some(
    (message) =>
      'blocks' in message &&
      allBlocks(message.blocks).some((block) => block.for !== undefined || isMore(block) || blockKindOf(block).drawnBy === 'extras'),
  );

/** A form whose answers are looked at first, or whose consent has a link. */
const isMore = (block: Block): boolean => block.kind === 'form' && block.fields.some(({ checked, link }) => checked || link);

const allOf = (parts: Expr<PageLeaf>[]): Expr<PageLeaf> | undefined => (parts.length > 1 ? { all: parts } : parts[0]);

/** Of everybody it is known, one way or the other, whether they are. */
const EVERYBODYS: PeopleCondition = { kind: 'known', is: true };

/** Unknown for as long as the leaf is, and true from then on: blocks for some wait until it is known whom they are for. */
const eitherWay = (leaf: PageLeaf): Expr<PageLeaf> => ({ any: [leaf, { none: [leaf] }] });

function putIn(pages: Pages, sets: PageSets): Pages {
  const plain = (patterns: readonly PagePattern[] | undefined): PagePattern[] =>
    (patterns ?? []).flatMap((pattern): readonly (PagePattern | PlainPattern)[] =>
      'set' in pattern ? (sets[pattern.set] ?? [pattern]) : [pattern],
    );
  return { on: plain(pages.on), except: plain(pages.except) };
}

function releasedGoal(goal: Goal, sets: PageSets): Goal {
  const plain = plainGoal(goal);
  return plain.kind === 'page' ? { ...plain, pages: putIn({ on: plain.pages }, sets).on ?? [] } : plain;
}

function selectorsOf(campaigns: readonly ReleasedCampaign[]): string[] {
  const leaves = campaigns.flatMap(({ moment }) => leavesOf(moment)).map(({ leaf }) => leaf);
  return [...new Set(leaves.flatMap((leaf) => ('selector' in leaf ? [leaf.selector] : [])))];
}
