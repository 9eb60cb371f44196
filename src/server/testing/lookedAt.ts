import pg from 'pg';

/** What a statement read of a table: rows that it met, whether it kept them or not. */
export interface LookedAt {
  readonly sql: string;
  readonly table: string;
  readonly rows: number;
}

interface Plan {
  readonly 'Relation Name'?: string;
  readonly 'Actual Rows': number;
  readonly 'Actual Loops': number;
  readonly 'Rows Removed by Filter'?: number;
  readonly 'Rows Removed by Index Recheck'?: number;
  readonly Plans?: readonly Plan[];
}

function* scansOf(plan: Plan): Generator<{ readonly table: string; readonly rows: number }> {
  const table = plan['Relation Name'];
  const met = plan['Actual Rows'] + (plan['Rows Removed by Filter'] ?? 0) + (plan['Rows Removed by Index Recheck'] ?? 0);
  if (table !== undefined) yield { table, rows: met * plan['Actual Loops'] };
  for (const inner of plan.Plans ?? []) yield* scansOf(inner);
}

/**
 * A pool whose every statement is explained as it runs, and what each has looked at so far. `asLarge`: as it is planned where tables have millions of
 * rows, by indexes wherever there is one that fits.
 */
export function explainedPool(
  url: string,
  { asLarge = false }: { asLarge?: boolean } = {},
): { readonly pool: pg.Pool; readonly seen: LookedAt[] } {
  const seen: LookedAt[] = [];
  const settings = {
    log_min_duration: 0,
    log_analyze: 'on',
    log_timing: 'off',
    log_format: 'json',
    log_nested_statements: 'on',
    log_level: 'notice',
  };
  const pool = new pg.Pool({
    connectionString: url,
    max: 6,
    options: [
      '-c session_preload_libraries=auto_explain',
      '-c client_min_messages=notice',
      ...(asLarge ? ['-c enable_seqscan=off'] : []),
      ...Object.entries(settings).map(([name, value]) => `-c auto_explain.${name}=${value}`),
    ].join(' '),
  });
  pool.on('error', () => undefined);
  pool.on('connect', (client) =>
    client.on('notice', ({ message }) => {
      const json = message?.slice(message.indexOf('{'));
      if (!json || !message?.startsWith('duration:')) return;
      const { 'Query Text': sql, Plan: plan } = JSON.parse(json) as { 'Query Text': string; Plan: Plan };
      seen.push(...[...scansOf(plan)].map((scan) => ({ sql, ...scan })));
    }),
  );
  return { pool, seen };
}
