import type { Choice, CHOICES } from '@/core/tryout/asked';
import { OUTCOMES } from '@/core/history/visitor';
import type { Channel, Utm } from '@/core/history/visitor';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { loadRecorded } from '../db/recorded';
import { searchTowns } from '../map/towns';

const MOST = 12;

const holds = (said: string) => {
  const wanted = said.trim().toLowerCase();
  return (label: string): boolean => label.toLowerCase().includes(wanted);
};

type Find = (db: Queryable, siteId: number, said: string) => Promise<Choice[]>;

const named =
  (list: 'segments' | 'campaigns'): Find =>
  async (db, siteId, said) =>
    (await loadRecorded(db, siteId))[list].filter(({ name }) => holds(said)(name)).map(({ id, name }) => ({ label: name, value: id }));

const recorded =
  (list: 'events' | 'tags' | 'traits' | 'languages'): Find =>
  async (db, siteId, said) =>
    (await loadRecorded(db, siteId))[list]
      .filter(({ value }) => holds(said)(value))
      .map(({ value, times }) => ({ label: value, hint: `${times} times`, value }));

/** What can be picked, by what was typed: what the site has on record, and the towns of the Earth. */
const FIND: { readonly [K in (typeof CHOICES)[number]]: Find } = {
  towns: (_db, _siteId, said) =>
    Promise.resolve(
      searchTowns(said.trim() || 'inn', MOST).map(({ name, country, lat, lon }) => ({
        label: name,
        hint: country,
        value: { city: name, country, lat, lon },
      })),
    ),
  // By its whole number alone, and nothing else of it: programs of the page may read the token, and would go through everybody.
  visitors: async (db, siteId, said) => {
    const number = Number(/^\D*(\d{1,9})\D*$/.exec(said)?.[1] ?? 0);
    const rows = await many<{ id: number }>(db, `select id from visitor where site_id = $1 and id = $2`, [siteId, number]);
    return rows.map(({ id }) => ({ label: `Visitor ${id}`, value: id }));
  },
  sources: async (db, siteId, said) => {
    const rows = await many<{ channel: Channel; referrer: string | null; utm: Utm; times: number }>(
      db,
      `select channel, referrer, utm, count(*)::int as times
         from (select channel, referrer, utm from visit where site_id = $1 order by started_at desc limit 5000) as recent
        group by 1, 2, 3 order by 4 desc limit 200`,
      [siteId],
    );
    return rows
      .map(({ channel, referrer, utm, times }) => ({
        label: [channel, utm.source ?? referrer, utm.campaign].filter(Boolean).join(' · '),
        hint: `${times} of the last visits`,
        value: { channel, utm, ...(referrer ? { referrer } : {}) },
      }))
      .filter(({ label }) => holds(said)(label));
  },
  segments: named('segments'),
  campaigns: async (db, siteId, said) =>
    (await named('campaigns')(db, siteId, '')).flatMap(({ label, value }) =>
      OUTCOMES.map((outcome) => ({ label: `${label}: ${outcome}`, value: { campaign: value, outcome, daysAgo: 3 } })).filter((one) =>
        holds(said)(one.label),
      ),
    ),
  events: recorded('events'),
  tags: recorded('tags'),
  traits: recorded('traits'),
  languages: recorded('languages'),
};

export const choicesFor = async (
  db: Queryable,
  siteId: number,
  { of, said }: { of: (typeof CHOICES)[number]; said: string },
): Promise<Choice[]> => (await FIND[of](db, siteId, said)).slice(0, MOST);
