/** As the studio starts: loads what counting and rehearsing need and counts the segments, so that the first question does not wait for it. */
export async function register(): Promise<void> {
  if (process.env['NEXT_RUNTIME'] !== 'nodejs' || !process.env['CRINDLE_DATABASE_URL']) return;
  const [{ pool, poolOf }, { many }, { countSegments }] = await Promise.all([
    import('./server/db/sharedPool'),
    import('./server/db/queryable'),
    import('./server/segments/sizes'),
  ]);
  // In the background: the studio answers meanwhile, and says by itself where the database is away.
  many<{ id: number }>(pool(), 'select id from site order by visitors desc limit 3')
    .then((sites) => Promise.all(sites.map(({ id }) => countSegments(poolOf(id), id))))
    .catch((cause: unknown) => console.error('nothing was loaded ahead:', cause));
}
