import type { TaskList } from 'graphile-worker';

/** May run twice: every statement is one that changes nothing the second time. */
export const tasks: TaskList = {
  housekeeping: async (_payload, helpers) => {
    const query = (sql: string, values: unknown[] = []) => helpers.query(sql, values);
    for (const months of [0, 1]) await query(`select add_partitions((now() + make_interval(months => $1))::date)`, [months]);
    await query(`delete from session where expires_at < now()`);
    await query(`delete from trash where deleted_at < now() - interval '30 days'`);
    await query(`delete from sign_in_failure where at < now() - interval '1 day'`);
    await query(`delete from refused where day < current_date - 90`);
    await query(`delete from fault where day < current_date - 90`);
    helpers.logger.info('housekeeping done');
  },
  // What a visit came to is written down once it is over; a late piece takes that back, and the next round does it again.
  'close-visits': async (_payload, helpers) => {
    await helpers.query(
      `update visit set closed_at = last_at + interval '30 minutes', views = came.views, engaged_ms = came.engaged
         from (select over.site_id, over.id, count(page_view.id)::int as views, coalesce(sum(page_view.engaged_ms), 0)::int as engaged
                 from (select site_id, id from visit where closed_at is null and last_at < now() - interval '30 minutes' order by last_at limit 20000) as over
                 left join page_view on page_view.site_id = over.site_id and page_view.visit_id = over.id
                group by over.site_id, over.id) as came
        where visit.site_id = came.site_id and visit.id = came.id and closed_at is null`,
    );
  },
};
