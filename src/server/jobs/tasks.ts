import type { TaskList } from 'graphile-worker';
import type { ReadSide } from '../db/readSide';
import { sealEverySite } from '../sealed/seal';

/** One does not take another along: each is done for itself. */
const HOUSEKEEPING: readonly (readonly [sql: string, ...values: unknown[]])[] = [
  ...[0, 1].map((months) => [`select add_partitions((now() + make_interval(months => $1))::date)`, months] as const),
  [`delete from session where expires_at < now()`],
  [`delete from trash where deleted_at < now() - interval '30 days'`],
  [`delete from sign_in_failure where at < now() - interval '1 day'`],
  [`delete from refused where day < current_date - 90`],
  [`delete from fault where day < current_date - 90`],
  [`delete from fault_counted where day < current_date - 2`],
];

/** May run twice: every statement is one that changes nothing the second time. */
export const tasks: TaskList = {
  housekeeping: async (_payload, helpers) => {
    const query = (sql: string, values: unknown[] = []) => helpers.query(sql, values);
    const failures: unknown[] = [];
    for (const [sql, ...values] of HOUSEKEEPING)
      await query(sql, values).catch((cause: unknown) => {
        helpers.logger.error(`housekeeping: ${sql}: ${String(cause)}`);
        failures.push(cause);
      });
    // Tried again later; what went is not undone by what did not.
    if (failures.length > 0) throw new AggregateError(failures, `${failures.length} of ${HOUSEKEEPING.length} tasks failed`);
    helpers.logger.info('housekeeping done');
  },
  // What a visit came to is written down once it is over; a late piece takes that back, and the next round does it again.
  'close-visits': async (_payload, helpers) => {
    await helpers.query(
      `update visit set closed_at = last_at + interval '30 minutes', views = came.views, engaged_ms = came.engaged
         from (select over.site_id, over.id, count(page_view.id)::int as views, least(coalesce(sum(page_view.engaged_ms), 0), 2147483647)::int as engaged
                 from (select site_id, id from visit where closed_at is null and last_at < now() - interval '30 minutes' order by last_at limit 20000) as over
                 left join page_view on page_view.site_id = over.site_id and page_view.visit_id = over.id
                group by over.site_id, over.id) as came
        where visit.site_id = came.site_id and visit.id = came.id and closed_at is null`,
    );
  },
};

/** All of them: sealing a day takes several statements, and connections of its own. */
export const tasksOn = (reading: ReadSide): TaskList => ({
  ...tasks,
  seal: (_payload, helpers) => sealEverySite(reading, Date.now(), (text) => helpers.logger.info(text)),
});
