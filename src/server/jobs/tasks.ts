import type { TaskList } from 'graphile-worker';

/** May run twice: every statement is one that changes nothing the second time. */
export const tasks: TaskList = {
  housekeeping: async (_payload, helpers) => {
    const query = (sql: string, values: unknown[] = []) => helpers.query(sql, values);
    for (const months of [0, 1]) await query(`select add_partitions((now() + make_interval(months => $1))::date)`, [months]);
    await query(`delete from session where expires_at < now()`);
    await query(`delete from sign_in_failure where at < now() - interval '1 day'`);
    await query(`delete from refused where day < current_date - 90`);
    helpers.logger.info('housekeeping done');
  },
};
