import { countByLists } from '@/server/counting/countByLists';
import { countBySql } from '@/server/counting/countBySql';
import { readDocument } from './documents';
import { instantOption, readOptions, required, Usage } from './options';
import { withSite } from './site';

/** `count --site KEY --segment FILE [--engine lists|sql] [--at ISO]` */
export async function countCommand(words: readonly string[]): Promise<object> {
  const { option } = readOptions(words, { values: ['--site', '--segment', '--engine', '--at'] });
  const engine = option('--engine') ?? 'lists';
  if (engine !== 'lists' && engine !== 'sql') throw new Usage(`--engine: met ${engine}, expected lists or sql`);
  const document = readDocument(required('--segment', option('--segment')));
  if (document.kind !== 'segment') throw new Usage('--segment: met a rule, expected a segment with a lookback');
  const now = Date.now();
  const at = instantOption('--at', option('--at'), now);
  return withSite(option('--site'), async (pool, site) => {
    const started = performance.now();
    const count = engine === 'lists' ? countByLists : countBySql;
    const { people, unknown } = await count(pool, site.id, document.segment, at);
    return { people, unknown, ms: Math.round(performance.now() - started) };
  });
}
