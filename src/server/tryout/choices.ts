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
  visitors: async (db, siteId, said) => {
    const number = Number(said.replace(/\D/g, '')) || null;
    const rows = await many<{ id: number; visits: number; city: string | null; last: Date; page: string | null }>(
      db,
      `select visitor.id, (select count(*)::int from visit where visit.site_id = $1 and visitor_id = visitor.id) as visits,
              latest.city, latest.started_at as last, latest.landing as page
         from (select id, touched_at from visitor where site_id = $1 and ($2::int is null or id = $2::int) order by touched_at desc limit 40) as visitor
         left join lateral (select city, started_at,
                (select url from page_view where site_id = $1 and visit_id = visit.id order by at limit 1) as landing
                from visit where site_id = $1 and visitor_id = visitor.id order by started_at desc limit 1) as latest on true
        order by visitor.touched_at desc`,
      [siteId, number !== null && number < 2 ** 31 ? number : null],
    );
    return rows.slice(0, MOST).map(({ id, visits, city, page }) => ({
      label: `Visitor ${id}`,
      hint: [`${visits} ${visits === 1 ? 'visit' : 'visits'}`, city, page && URL.canParse(page) ? new URL(page).pathname : undefined]
        .filter(Boolean)
        .join(' · '),
      value: id,
    }));
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
