import { calendarHolds } from '@/core/people/kinds/calendar';
import { locationHolds } from '@/core/people/kinds/location';
import { anyPatternHolds } from '@/core/pages/pages';
import type { PagePattern } from '@/core/pages/pattern';
import type { PeopleCondition, PeopleKindName } from '@/core/people/condition';
import type { Subject, Within } from '@/core/people/subject';
import type { Expr } from '@/core/logic/expr';
import { asGroup } from '@/core/logic/expr';
import type { Range } from '@/core/logic/range';
import type { TextTest, ValueTest } from '@/core/logic/valueTest';
import type { Truth } from '@/core/logic/truth';
import type { Statement } from './statement';

/** An expression of people conditions as SQL over `v` (the visitor) and `cur` (their visit under way). */
export function exprSql(expr: Expr<PeopleCondition>, statement: Statement): string {
  const group = asGroup(expr);
  if (!group) return `(${conditionSql(expr as PeopleCondition, statement)})`;
  const parts = group.parts.map((part) => exprSql(part, statement));
  if (group.join === 'all') return parts.length ? `(${parts.join(' and ')})` : 'true';
  const any = parts.length ? `(${parts.join(' or ')})` : 'false';
  return group.join === 'any' ? any : `(not ${any})`;
}

type SqlOf<K extends PeopleKindName> = (condition: Extract<PeopleCondition, { kind: K }>, s: Statement) => string;

/** Not on record; a segment that is left is one that no longer exists. */
const notOnRecord = (): string => 'null::boolean';

/** Each kind as SQL: the oracle of the counting by lists. */
const SQL: { readonly [K in PeopleKindName]: SqlOf<K> } = {
  viewed: (condition, s) => boundsSql(viewsSql(condition, '1', s), condition.times ?? { min: 1 }, s),
  read: (condition, s) =>
    boundsSql(
      viewsSql(condition, `(case when ${measured('pv.scroll')} >= ${s.parameter(condition.scroll, 'float8')} then 1 else 0 end)`, s),
      condition.times ?? { min: 1 },
      s,
    ),
  engaged: (condition, s) => boundsSql(viewsSql(condition, `${measured('pv.engaged_ms')} / 1000.0`, s), condition.seconds, s),
  did: (condition, s) => {
    const where = (condition.where ?? []).map(({ key, test }) => valueSql(`(e.props -> ${s.parameter(key, 'text')})`, test, s));
    const rows = `from event e where e.site_id = ${s.site} and e.visitor_id = v.id and e.name = ${s.parameter(condition.event, 'text')} and ${windowSql('e.at', condition.within, s, 'e.visit_id')}${where.map((test) => ` and ${test}`).join('')}`;
    return inRangeSql(`(select count(*) ${rows})`, condition.times ?? { min: 1 }, s);
  },
  visits: (condition, s) =>
    inRangeSql(
      `(select count(*) from visit x where x.site_id = ${s.site} and x.visitor_id = v.id and ${condition.within === 'visit' ? 'x.id = cur.id' : windowSql('x.started_at', condition.within, s, 'x.id')})`,
      condition.times,
      s,
    ),
  away: (condition, s) =>
    `coalesce((select ${inRangeSql(`extract(epoch from cur.started_at - x.started_at) / 86400`, condition.days, s)} from visit x where x.site_id = ${s.site} and x.visitor_id = v.id and (x.started_at, x.id) < (cur.started_at, cur.id) order by x.started_at desc, x.id desc limit 1), false)`,
  firstSeen: (condition, s) =>
    `(select ${inRangeSql(s.daysSince('min(x.started_at)'), condition.days, s)} from visit x where x.site_id = ${s.site} and x.visitor_id = v.id and x.started_at <= ${s.now})`,
  known: (condition, s) => `exists (${changes(s, 'identity')} and c.value is not null) = ${s.parameter(condition.is, 'boolean')}`,
  trait: (condition, s) =>
    `coalesce((select ${valueSql('c.value', condition.test, s)} from visitor_change c where ${changeIs(s, 'trait')} and c.key = ${s.parameter(condition.key, 'text')} order by c.at desc, c.id desc limit 1), false)`,
  tagged: (condition, s) =>
    `coalesce((select c.value is not null from visitor_change c where ${changeIs(s, 'tag')} and c.key = ${s.parameter(condition.tag, 'text')} order by c.at desc, c.id desc limit 1), false)`,
  score: (condition, s) =>
    inRangeSql(
      `coalesce((select sum((c.value #>> '{}')::float8) from visitor_change c where ${changeIs(s, 'score')} and jsonb_typeof(c.value) = 'number'), 0)`,
      condition.points,
      s,
    ),
  response: (condition, s) => responseSql(condition, s),
  source: (condition, s) => sourceSql(condition, s),
  location: (condition, s) =>
    mapped(
      s,
      `row(cur.country, cur.region, cur.city, cur.lat, cur.lon)::text`,
      s.context.locations.map((one) => ({
        key: one.key,
        holds: locationHolds(condition, { ...subjectOf(s), visitor: { ...NOBODY, ...(one.country ? { location: cleaned(one) } : {}) } }),
      })),
    ),
  calendar: (condition, s) =>
    mapped(
      s,
      `coalesce(v.zone, 'UTC')`,
      [...new Set(['UTC', ...s.context.zones.map((zone) => zone ?? 'UTC')])].map((zone) => ({
        key: zone,
        holds: calendarHolds(condition, { ...subjectOf(s), visitor: { ...NOBODY, zone } }),
      })),
    ),
  device: (condition, s) =>
    `case when v.device_category is null and v.device_os is null and v.device_browser is null then null else (${[listSql('v.device_category', condition.category, s), listSql('v.device_os', condition.os, s), listSql('v.device_browser', condition.browser, s)].join(' and ')}) end`,
  language: (condition, s) =>
    `(${condition.is.map((tag) => `lower(v.language) = ${s.parameter(tag.toLowerCase(), 'text')} or starts_with(lower(v.language), ${s.parameter(`${tag.toLowerCase()}-`, 'text')})`).join(' or ')})`,
  adBlocker: (condition, s) => `v.ad_blocker = ${s.parameter(condition.is, 'boolean')}`,
  team: (condition, s) => `v.team = ${s.parameter(condition.is, 'boolean')}`,
  weather: (condition, s) =>
    `case when cur.weather is null then null else (${[
      ...(condition.is ? [`cur.weather ->> 'is' = any(${s.parameter(condition.is, 'text[]')})`] : []),
      ...(condition.celsius ? [inRangeSql(`(cur.weather ->> 'celsius')::float8`, condition.celsius, s)] : []),
      'true',
    ].join(' and ')}) end`,
  cookie: notOnRecord,
  staffed: (condition, s) =>
    `(select c.value = 'true' from visitor_change c where ${changeIs(s, 'staffed')} and c.at >= cur.started_at order by c.at desc, c.id desc limit 1) = ${s.parameter(condition.is, 'boolean')}`,
  segment: notOnRecord,
};

const conditionSql = (condition: PeopleCondition, s: Statement): string => (SQL[condition.kind] as SqlOf<PeopleKindName>)(condition, s);

const NOBODY: Subject['visitor'] = { visits: [], known: false, traits: {}, tags: [], responses: [] };
const subjectOf = ({ context: { now, lookback, sets, places } }: Statement): Subject => ({
  visitor: NOBODY,
  now,
  lookback,
  sets,
  places,
  segments: {},
});
const cleaned = ({
  country,
  region,
  city,
  lat,
  lon,
}: {
  country: string | null;
  region: string | null;
  city: string | null;
  lat: number | null;
  lon: number | null;
}) => Object.fromEntries(Object.entries({ country, region, city, lat, lon }).filter(([, value]) => value !== null));

/** The current view's measures are still 0. */
const measured = (column: string): string => `(case when pv.id = last.id then 0 else ${column} end)`;

/** Two sums in a row: over views that match surely, and over those that may. */
function viewsSql(
  { pages, within }: { pages?: readonly PagePattern[] | undefined; within?: Within },
  weight: string,
  s: Statement,
): string {
  const last = `left join lateral (select id from page_view where site_id = ${s.site} and visit_id = cur.id and at <= ${s.now} order by at desc, id desc limit 1) last on true`;
  if (!pages?.length) {
    return `select coalesce(sum(${weight}), 0) as low, coalesce(sum(${weight}), 0) as high
      from page_view pv ${last} where pv.site_id = ${s.site} and pv.visitor_id = v.id and ${windowSql('pv.at', within, s, 'pv.visit_id')}`;
  }
  const matching = s.context.pages
    .map((page) => ({
      page,
      holds: anyPatternHolds(pages, { url: page.url, title: page.title ?? undefined, labels: page.labels ?? undefined }, s.context.sets),
    }))
    .filter(({ holds }) => holds !== false);
  const column = (pick: (one: (typeof matching)[0]) => unknown, type: string): string => s.parameter(matching.map(pick), type);
  const list = `unnest(${column(({ page }) => page.url, 'text[]')}, ${column(({ page }) => page.title, 'text[]')}, ${column(({ page }) => page.printed, 'text[]')}, ${column(({ holds }) => holds === true, 'boolean[]')}) as m (url, title, labels, sure)`;
  return `select coalesce(sum(${weight}) filter (where m.sure), 0) as low, coalesce(sum(${weight}), 0) as high
    from page_view pv join ${list} on m.url = pv.url and m.title is not distinct from pv.title and m.labels is not distinct from pv.labels::text ${last}
    where pv.site_id = ${s.site} and pv.visitor_id = v.id and ${windowSql('pv.at', within, s, 'pv.visit_id')}`;
}

function boundsSql(sums: string, range: Range, s: Statement): string {
  const [min, max] = [s.parameter(range.min ?? null, 'float8'), s.parameter(range.max ?? null, 'float8')];
  const fits = (side: string): string => `(b.${side} >= coalesce(${min}, b.${side}) and b.${side} <= coalesce(${max}, b.${side}))`;
  return `(select case when ${fits('low')} and ${fits('high')} then true when b.high < ${min} or b.low > ${max} then false else null end from (${sums}) b)`;
}

function inRangeSql(value: string, { min, max }: Range, s: Statement): string {
  const bounds = [
    ...(min === undefined ? [] : [`n >= ${s.parameter(min, 'float8')}`]),
    ...(max === undefined ? [] : [`n <= ${s.parameter(max, 'float8')}`]),
  ];
  return `(select ${bounds.join(' and ')} from (select (${value})::float8 as n) as counted)`;
}

function windowSql(at: string, within: Within, s: Statement, visit: string): string {
  if (within === 'visit') return `${at} <= ${s.now} and ${at} >= cur.started_at and ${visit} = cur.id`;
  return `${at} <= ${s.now} and ${at} > ${s.now} - make_interval(secs => ${s.parameter((within ?? s.context.lookback) * 86_400, 'float8')})`;
}

const changeIs = (s: Statement, kind: string): string =>
  `c.site_id = ${s.site} and c.visitor_id = v.id and c.at <= ${s.now} and c.kind = '${kind}'`;
const changes = (s: Statement, kind: string): string => `select from visitor_change c where ${changeIs(s, kind)}`;

function responseSql({ campaign, outcome, times, within }: Extract<PeopleCondition, { kind: 'response' }>, s: Statement): string {
  const isIn = (at: string): string =>
    within === 'visit' ? `${at} <= ${s.now} and ${at} >= cur.started_at` : windowSql(at, within, s, '');
  const of = `w.site_id = ${s.site} and w.visitor_id = v.id and w.campaign_id = ${s.parameter(campaign, 'text')}`;
  const rows =
    outcome === 'shown'
      ? `from showing w where ${of} and w.shown and ${isIn('w.at')}`
      : `from outcome o join showing w on w.site_id = ${s.site} and w.id = o.showing_id where o.site_id = ${s.site} and ${of} and o.kind = ${s.parameter(outcome, 'text')} and ${isIn('o.at')}`;
  return inRangeSql(`(select count(*) ${rows})`, times ?? { min: 1 }, s);
}

function sourceSql({ of, channel, referrer, utm }: Extract<PeopleCondition, { kind: 'source' }>, s: Statement): string {
  const test = (row: string): string =>
    [
      ...(channel ? [`${row}.channel = any(${s.parameter(channel, 'text[]')})`] : []),
      ...(referrer ? [textSql(`${row}.referrer`, referrer, s)] : []),
      ...Object.entries(utm ?? {}).flatMap(([key, one]) => (one ? [textSql(`(${row}.utm ->> ${s.parameter(key, 'text')})`, one, s)] : [])),
    ].join(' and ') || 'true';
  const earlier = `from visit x where x.site_id = ${s.site} and x.visitor_id = v.id and x.started_at <= ${s.now}`;
  if (of === 'ever') return `exists (select ${earlier} and ${test('x')})`;
  if (of === 'first') return `(select ${test('x')} ${earlier} order by x.started_at, x.id limit 1)`;
  return test('cur');
}

function listSql(column: string, list: readonly string[] | undefined, s: Statement): string {
  return list
    ? `lower(${column}) = any(${s.parameter(
        list.map((one) => one.toLowerCase()),
        'text[]',
      )})`
    : 'true';
}

function mapped(s: Statement, key: string, truths: readonly { key: string; holds: Truth }[]): string {
  const of = (wanted: Truth): string =>
    s.parameter(
      truths.filter(({ holds }) => holds === wanted).map((one) => one.key),
      'text[]',
    );
  return `case when ${key} = any(${of(true)}) then true when ${key} = any(${of(false)}) then false else null end`;
}

const isText = (test: ValueTest): test is TextTest => test.op !== 'range' && test.op !== 'daysAgo';

function valueSql(json: string, test: ValueTest, s: Statement): string {
  if (isText(test))
    return textSql(`(case when jsonb_typeof(${json}) in ('string', 'number', 'boolean') then ${json} #>> '{}' end)`, test, s);
  if (test.op === 'range')
    return `coalesce(case when jsonb_typeof(${json}) = 'number' then ${inRangeSql(`${json} #>> '{}'`, test, s)} else false end, false)`;
  const iso = `'^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d(:\\d\\d(\\.\\d+)?)?(Z|[+-]\\d\\d:?\\d\\d)?)?$'`;
  // Without an offset a time is UTC's and a date UTC's midnight, whatever zone the session has.
  const text = `${json} #>> '{}'`;
  const offset = `case when ${text} !~ 'T' then 'T00:00Z' when ${text} ~ '(Z|[+-]\\d\\d:?\\d\\d)$' then '' else 'Z' end`;
  const at = `(((${text}) || ${offset})::timestamptz)`;
  return `coalesce(case when jsonb_typeof(${json}) = 'string' and ${json} #>> '{}' ~ ${iso} then ${at} <= ${s.now} and ${inRangeSql(s.daysSince(at), test, s)} else false end, false)`;
}

/** A missing text makes every test false. */
function textSql(text: string, test: TextTest, s: Statement): string {
  const lower = `lower(${text})`;
  switch (test.op) {
    case 'is':
      return `coalesce(${lower} = ${s.parameter(test.value.toLowerCase(), 'text')}, false)`;
    case 'contains':
      return `coalesce(strpos(${lower}, ${s.parameter(test.value.toLowerCase(), 'text')}) > 0, false)`;
    case 'starts':
      return `coalesce(starts_with(${lower}, ${s.parameter(test.value.toLowerCase(), 'text')}), false)`;
    case 'ends':
      return `coalesce(right(${lower}, length(${s.parameter(test.value.toLowerCase(), 'text')})) = ${s.parameter(test.value.toLowerCase(), 'text')}, false)`;
    case 'oneOf':
      return `coalesce(${lower} = any(${s.parameter(
        test.value.map((one) => one.toLowerCase()),
        'text[]',
      )}), false)`;
    case 'exists':
      return `coalesce(${text} <> '', false)`;
  }
}
