import type { Dismissal } from '../history/visitor';
import { Interner } from '../interner';
import { keyOf } from './chunk';

/** A campaign met for the first time or again. */
export interface MetRow {
  readonly visitor: number;
  /** UTC ms. */
  readonly at: number;
  readonly campaign: string;
  readonly variant: string | null;
  readonly shown: boolean;
  /** It was put into the page and never came into sight. */
  readonly unseen?: boolean;
  readonly release: number;
  /** When the visit began, UTC ms. */
  readonly visitAt: number;
  readonly channel: string | null;
  readonly country: string | null;
  /** Path of the page. */
  readonly page: string | null;
  /** They had been here before the visit. */
  readonly returning: boolean;
}

/** What a visitor then did with it. `lead`: their answers; `standing` where these were given in a message of a showing that is counted. */
export interface CameRow {
  readonly visitor: number;
  readonly at: number;
  readonly campaign: string;
  readonly did: 'clicked' | 'dismissed' | 'replied' | 'lead';
  readonly how?: Dismissal | undefined;
  readonly standing?: boolean | undefined;
}

export const RESULT_COLUMNS = {
  metVisitor: ['u32', 'any'],
  metAt: ['f64', 'any'],
  met: ['u32', 'any'],
  visitAt: ['f64', 'any'],
  arrival: ['u32', 'any'],
  path: ['u32', 'any'],
  cameVisitor: ['u32', 'any'],
  cameAt: ['f64', 'any'],
  came: ['u32', 'any'],
} as const;

/** What results read of one day (UTC) of a site, in the order of its instants. Campaigns and the like are indices into `ResultNames`. */
export interface ResultsDay {
  /** UTC ms. */
  readonly dayStart: number;
  readonly metVisitor: Uint32Array;
  readonly metAt: Float64Array;
  readonly met: Uint32Array;
  readonly visitAt: Float64Array;
  readonly arrival: Uint32Array;
  readonly path: Uint32Array;
  readonly cameVisitor: Uint32Array;
  readonly cameAt: Float64Array;
  readonly came: Uint32Array;
}

/** What the days of a site refer to, each kept once. */
export class ResultNames {
  readonly met = new Interner<Pick<MetRow, 'campaign' | 'variant' | 'shown' | 'unseen' | 'release'>>();
  readonly arrivals = new Interner<Pick<MetRow, 'channel' | 'country' | 'returning'>>();
  readonly paths = new Interner<string | null>();
  readonly came = new Interner<Pick<CameRow, 'campaign' | 'did' | 'how' | 'standing'>>();
}
export type ResultNameList = keyof ResultNames;

/** Rows in the order of their instants. */
export function buildResultsDay(
  dayStart: number,
  { met, came }: { met: readonly MetRow[]; came: readonly CameRow[] },
  names: ResultNames,
): ResultsDay {
  const entry = <T>(list: Interner<T>, value: T): number => list.indexOf(keyOf(value), () => value);
  return {
    dayStart,
    metVisitor: Uint32Array.from(met, ({ visitor }) => visitor),
    metAt: Float64Array.from(met, ({ at }) => at),
    met: Uint32Array.from(met, ({ campaign, variant, shown, unseen, release }) =>
      entry(names.met, { campaign, variant, shown, release, ...(unseen ? { unseen } : {}) }),
    ),
    visitAt: Float64Array.from(met, ({ visitAt }) => visitAt),
    arrival: Uint32Array.from(met, ({ channel, country, returning }) => entry(names.arrivals, { channel, country, returning })),
    path: Uint32Array.from(met, ({ page }) => entry(names.paths, page)),
    cameVisitor: Uint32Array.from(came, ({ visitor }) => visitor),
    cameAt: Float64Array.from(came, ({ at }) => at),
    came: Uint32Array.from(came, ({ campaign, did, how, standing }) =>
      entry(names.came, { campaign, did, ...(how ? { how } : {}), ...(standing ? { standing } : {}) }),
    ),
  };
}
