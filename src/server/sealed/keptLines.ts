import { createHash } from 'node:crypto';
import { leavesOf } from '@/core/logic/expr';
import type { CountingInput } from '@/core/counting/countPeople';
import { kindOf } from '@/core/people/condition';
import type { SegmentBody } from '@/core/people/subject';
import type { People } from '@/core/sealed/people';
import { DAY_MS } from '@/core/time/day';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import type { StateOfDays } from './siteChunks';
import { textOf } from './textOf';

/** Raised whenever conditions come to say something else of the same records. */
const VERSION = 1;
/** Midnights older than this go. */
const MOST_DAYS = 91;
/** A line that nobody has asked for in so long is forgotten. */
const UNUSED_DAYS = 14;

const digest = (...parts: readonly (string | Uint8Array)[]): string => {
  const hash = createHash('sha256');
  for (const part of parts) hash.update(part).update('\0');
  return hash.digest('base64').slice(0, 22);
};

/** What all that is on record before a midnight comes to: another digest, other records. */
export interface Past {
  /** Undefined where some day before it is not sealed. `withAttributes`: with what stands of each visitor as such. */
  readonly at: (midnight: number, withAttributes: boolean) => string | undefined;
}

/** Of which nothing is known for sure. */
export const NO_PAST: Past = { at: () => undefined };

/** The past of a site by its days as they were sealed and by who is on record. */
export function pastOf({ days }: Pick<StateOfDays, 'days'>, people: People): Past {
  const whose = people.byFirstDay();
  const after: { readonly day: number; readonly plain: string; readonly full: string }[] = [];
  let [plain, full] = ['', ''];
  for (const [day, sealed] of days) {
    if (sealed === null) break;
    const visitors = whose.get(day) ?? [];
    const attributes = new Map<unknown, number>();
    const of = Uint32Array.from(visitors, (visitor) => {
      const one = people.attributesOf(visitor);
      if (!attributes.has(one)) attributes.set(one, attributes.size);
      return attributes.get(one) as number;
    });
    plain = digest(plain, `${day} ${sealed}`, bytesOf(Uint32Array.from(visitors)));
    full = digest(full, plain, JSON.stringify([...attributes.keys()]), bytesOf(of));
    after.push({ day, plain, full });
  }
  const firstOpen = days[after.length]?.[0] ?? Infinity;
  return {
    at: (midnight, withAttributes) => {
      if (midnight > firstOpen) return undefined;
      const last = after.findLast(({ day }) => day + DAY_MS <= midnight);
      return last ? (withAttributes ? last.full : last.plain) : '';
    },
  };
}

const bytesOf = ({ buffer }: Uint32Array): Uint8Array => new Uint8Array(buffer);

/** What a segment asks: its own conditions and those of the segments that it names, with all page sets and places. */
interface Question {
  readonly key: string;
  readonly withAttributes: boolean;
}

function questionOf(segment: SegmentBody, known: CountingInput['known']): Question {
  const named = new Map<string, SegmentBody | undefined>();
  let withAttributes = false;
  const walk = ({ people }: SegmentBody): void => {
    for (const { leaf } of leavesOf(people)) {
      const { counting } = kindOf(leaf);
      if (counting.by === 'history') withAttributes = true;
      // One that does not say what it looks at may look at them.
      if (counting.by === 'record') withAttributes ||= [undefined, 'attributes'].includes(counting.of?.(leaf));
      if (counting.by !== 'segment') continue;
      const id = counting.id(leaf);
      if (named.has(id)) continue;
      const body = Object.hasOwn(known.segments, id) ? known.segments[id] : undefined;
      named.set(id, body);
      if (body) walk(body);
    }
  };
  walk(segment);
  return { key: digest(JSON.stringify([VERSION, segment, [...named]]), textOf(known.sets, known.places)), withAttributes };
}

/** Of some segments what is known of midnights that are over, to be asked and told. */
export class KeptLines {
  readonly #db: Queryable;
  readonly #siteId: number;
  readonly #past: Past;
  readonly #questions: readonly Question[];
  readonly #midnights: Map<string, Record<string, [stands: string, people: number]>>;
  readonly #changed = new Set<string>();

  private constructor(db: Queryable, siteId: number, of: { past: Past; questions: readonly Question[]; rows: readonly Row[] }) {
    [this.#db, this.#siteId, this.#past, this.#questions] = [db, siteId, of.past, of.questions];
    this.#midnights = new Map(of.rows.map(({ question, midnights }) => [question, midnights]));
  }

  static async load(
    db: Queryable,
    siteId: number,
    { segments, known, past }: { segments: readonly SegmentBody[]; known: CountingInput['known']; past: Past },
  ): Promise<KeptLines> {
    const questions = segments.map((segment) => questionOf(segment, known));
    const rows = await many<Row>(db, `select question, midnights from segment_line where site_id = $1 and question = any($2)`, [
      siteId,
      questions.map(({ key }) => key),
    ]);
    return new KeptLines(db, siteId, { past, questions, rows });
  }

  /** How many were in a segment (by its place) at a midnight (UTC ms); undefined where that is not known of these records. */
  people(segment: number, at: number): number | undefined {
    const { key, withAttributes } = this.#questions[segment] as Question;
    const kept = this.#midnights.get(key)?.[String(at)];
    return kept && kept[0] === this.#past.at(at, withAttributes) ? kept[1] : undefined;
  }

  /** Notes what was counted; not of midnights before which something may still change. */
  note(lines: readonly (readonly { readonly at: number; readonly people: number }[])[]): void {
    lines.forEach((line, segment) => {
      const { key, withAttributes } = this.#questions[segment] as Question;
      for (const { at, people } of line) {
        const stands = at % DAY_MS === 0 ? this.#past.at(at, withAttributes) : undefined;
        if (stands === undefined || this.people(segment, at) === people) continue;
        const midnights = this.#midnights.get(key) ?? {};
        midnights[String(at)] = [stands, people];
        this.#midnights.set(key, midnights);
        this.#changed.add(key);
      }
    });
  }

  /** Keeps what was noted. `now`: UTC ms. */
  async keep(now: number): Promise<void> {
    for (const { key } of this.#questions) {
      const midnights = Object.entries(this.#midnights.get(key) ?? {}).filter(([at]) => Number(at) > now - MOST_DAYS * DAY_MS);
      if (midnights.length === 0) continue;
      await this.#db.query(
        `insert into segment_line (site_id, question, midnights, used_on) values ($1, $2, $3, at_ms($4)::date)
         on conflict (site_id, question) do update
           set midnights = case when $5 then excluded.midnights else segment_line.midnights end, used_on = excluded.used_on
           where $5 or segment_line.used_on < excluded.used_on`,
        [this.#siteId, key, JSON.stringify(Object.fromEntries(midnights)), now, this.#changed.has(key)],
      );
    }
    this.#changed.clear();
    await this.#db.query(`delete from segment_line where site_id = $1 and used_on < at_ms($2)::date - ${UNUSED_DAYS}`, [this.#siteId, now]);
  }
}

interface Row {
  [column: string]: unknown;
  readonly question: string;
  readonly midnights: Record<string, [stands: string, people: number]>;
}
