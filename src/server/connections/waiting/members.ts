import { IS_OPEN } from '../../db/keptSegments';
import { many } from '../../db/queryable';
import { emailHash } from '../kinds/members';
import type { Claimed, Source } from './source';
import { nextTry } from './source';

const due = (now: string): string =>
  `not failed and ${IS_OPEN} and kept_member.next_at <= at_ms(${now}) and (held_until is null or held_until <= at_ms(${now}))`;

interface Row {
  readonly [column: string]: unknown;
  readonly kept: string;
  readonly email: string;
  readonly wanted: boolean;
  readonly was: 'no' | 'maybe' | 'yes';
  readonly change: number;
  readonly tries: number;
  readonly madeAt: number;
  readonly segment: string;
  readonly name: string | null;
  /** Of whom it was erased. */
  readonly erasure: string | null;
}

/** People of segments that are kept in step. */
export const members: Source = {
  isDue: (now) =>
    `select from kept_segment join kept_member on kept_member.site_id = kept_segment.site_id and kept_id = kept_segment.id
      where kept_segment.site_id = connection.site_id and connection_id = connection.id and ${due(now)}`,
  claim: async (db, { site, connection, now, until, most }) => {
    const rows = await many<Row>(
      db,
      `with due as (
         select kept_member.site_id, kept_id, email, there as was, segment_id as segment, segment.name from kept_member
           join kept_segment on kept_segment.site_id = $1 and kept_segment.id = kept_id and connection_id = $2
           left join segment on segment.site_id = $1 and segment.id = segment_id
          where kept_member.site_id = $1 and ${due('$3')} order by kept_member.next_at, email limit $5 for update of kept_member skip locked)
       update kept_member set held_until = at_ms($4), there = 'maybe' from due
        where kept_member.site_id = due.site_id and kept_member.kept_id = due.kept_id and kept_member.email = due.email
       returning due.kept_id as kept, due.email, wanted, due.was, change, tries, ms(made_at)::float8 as "madeAt", segment, name, erasure`,
      [site, connection, now, until, most],
    );
    return rows.map((row) => claimed(site, row));
  },
};

function claimed(site: number, { kept, email, wanted, was, change, tries, madeAt, segment, name, erasure }: Row): Claimed {
  const what = wanted ? 'joined' : 'left';
  const key = [site, kept, email];
  return {
    what,
    delivery: `${kept}_${emailHash(email).slice(0, 32)}_${change}`,
    load: async () => ({ what, member: { email, segment: { id: segment, name: name ?? segment } } }),
    settle: async (tx, verdict, now) => {
      if (verdict.is === 'sent') {
        await tx.query(
          `update kept_member set there = $4, tries = 0, reason = '', held_until = null, next_at = at_ms($5) where site_id = $1 and kept_id = $2 and email = $3`,
          [...key, wanted ? 'yes' : 'no', now],
        );
        await tx.query(`delete from kept_member where site_id = $1 and kept_id = $2 and email = $3 and not wanted and there = 'no'`, key);
        await tx.query(`update kept_segment set ${wanted ? 'joined = joined' : 'gone = gone'} + 1 where site_id = $1 and id = $2`, [
          site,
          kept,
        ]);
        return;
      }
      const { isOver, at, reason } = nextTry(verdict, { tries: tries + 1, madeAt, now, isOwed: erasure !== null });
      // What was refused for good has not come about; anything else may have.
      await tx.query(
        `update kept_member set there = $4, tries = tries + 1, reason = $6, failed = $7 and change = $8, held_until = null,
                next_at = case when change = $8 then at_ms($5) else next_at end
          where site_id = $1 and kept_id = $2 and email = $3`,
        [...key, verdict.is === 'never' ? was : 'maybe', at, reason, isOver, change],
      );
    },
  };
}
