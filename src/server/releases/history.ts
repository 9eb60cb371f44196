import type { CampaignDocument } from '@/core/campaigns/campaign';
import { campaignWords } from '@/core/release/words';
import type { WordsFor } from '@/core/pages/names';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';

export interface HistoryLine {
  /** UTC ms. */
  readonly at: number;
  /** Null for what happened by itself. */
  readonly by: string | null;
  /** The release in which it reached visitors; undefined for what was done in the studio. */
  readonly release: number | undefined;
  /** "changed", "paused"; of a release what it did to the campaign. */
  readonly did: string;
  /** Each goes on from the campaign's name. */
  readonly words: readonly string[];
}

const MOST = 100;

/** An instant in ms to the microsecond: what was changed and published within one millisecond stays in its order. */
const EXACT = (column: string): string => `(extract(epoch from ${column}) * 1000)::float8`;

/** What was done to a campaign in the studio, and what each release made of it for visitors; newest first. */
export async function historyOf(db: Queryable, siteId: number, id: string, names: WordsFor): Promise<HistoryLine[]> {
  const [changes, releases] = await Promise.all([
    many<{ at: number; member: string | null; did: string; before: CampaignDocument | null; after: CampaignDocument | null }>(
      db,
      `select ${EXACT('at')} as at, member, did, before, after from change_log where site_id = $1 and kind = 'campaign' and subject = $2
        order by at desc, id desc limit ${MOST}`,
      [siteId, id],
    ),
    // Of what a release was made of only this campaign's part is read: a source holds the whole site.
    many<{ number: number; at: number; member: string | null; known: boolean; part: CampaignDocument | null }>(
      db,
      `select number, ${EXACT('published_at')} as at, member.name as member, source is not null as known,
              jsonb_path_query_first(source, '$.campaigns[*] ? (@.id == $id)', jsonb_build_object('id', $2::text)) as part
         from release left join member on member.id = release.member_id
        where release.site_id = $1 order by number desc limit ${MOST + 1}`,
      [siteId, id],
    ),
  ]);
  return [
    ...changes.map(({ at, member, did, before, after }): HistoryLine => ({
      at,
      by: member,
      release: undefined,
      did,
      words: before && after && did === 'changed' ? campaignWords(before, after, names) : [],
    })),
    ...releases.flatMap(({ number, at, member, known, part }, index): HistoryLine[] => {
      const earlier = releases[index + 1];
      // Of one after a release that did not keep what it was made of, nobody can say.
      if (!known || (earlier && !earlier.known)) return [];
      const was = earlier?.part ?? null;
      const line = (did: string, words: readonly string[] = []): HistoryLine[] => [{ at, by: member, release: number, did, words }];
      if (!part) return was ? line('taken from visitors') : [];
      if (!was) return line('given to visitors');
      const words = campaignWords(was, part, names);
      return words.length > 0 ? line('changed for visitors', words) : [];
    }),
  ]
    .sort((a, b) => b.at - a.at)
    .map((line) => ({ ...line, at: Math.trunc(line.at) }));
}
