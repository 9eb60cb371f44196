/** As the studio starts: loads what counting and rehearsing need, so that the first question does not wait for it. */
export async function register(): Promise<void> {
  if (process.env['NEXT_RUNTIME'] !== 'nodejs' || !process.env['CRINDLE_DATABASE_URL']) return;
  const [{ pool }, { many }, { analyse }] = await Promise.all([
    import('./server/db/sharedPool'),
    import('./server/db/queryable'),
    import('./server/analysis/analyse'),
  ]);
  // In the background: the studio answers meanwhile, and says by itself where the database is away.
  many<{ id: number }>(pool(), 'select id from site order by visitors desc limit 3')
    .then((sites) => Promise.all(sites.map(({ id }) => analyse({ kind: 'warm', site: id }))))
    .catch((cause: unknown) => console.error('nothing was loaded ahead:', cause));
}
