import { randomUUID } from 'node:crypto';
import { saveColleague } from '@/server/db/colleagues';
import type { Queryable } from '@/server/db/queryable';
import { many } from '@/server/db/queryable';
import { insertSavedAnswer } from '@/server/db/savedAnswers';

const EVERY_DAY = Object.fromEntries([1, 2, 3, 4, 5, 6, 7].map((day) => [String(day), [['07:00', '21:00']] as const]));
const WEEKDAYS = Object.fromEntries(
  [1, 2, 3, 4, 5].map((day) => [
    String(day),
    [
      ['09:00', '12:00'],
      ['13:00', '17:00'],
    ] as const,
  ]),
);

const SAVED = [
  ['winter room', 'The winter room next door sleeps six; there is wood in the shed.'],
  ['dogs', 'Dogs are welcome in the shelter, and sleep in the boot room.'],
  ['road', 'The road is open to cars as far as the bridge; from there it is an hour on foot.'],
] as const;

type Spoken = readonly [by: 'script' | 'visitor' | 'team' | 'note', text: string, minutesAgo: number];
interface Exchange {
  readonly lines: readonly Spoken[];
  /** Nobody has answered the last line. */
  readonly waits: boolean;
  readonly isClosed?: boolean;
}

const ASKS = 'Is anything in the way of your night with us?';
const EXCHANGES: readonly Exchange[] = [
  {
    waits: true,
    lines: [
      ['script', ASKS, 22],
      ['visitor', 'Just looking', 21],
      ['script', 'Good. The stove is lit at four.', 21],
      ['visitor', 'Is the road open to cars?', 19],
    ],
  },
  {
    waits: true,
    lines: [
      ['script', ASKS, 15],
      ['visitor', 'The date', 14],
      ['script', 'Leave me a date and I will see what is free around it.', 14],
      ['visitor', 'can we bring a dog', 11],
    ],
  },
  {
    waits: true,
    lines: [
      ['script', ASKS, 9],
      ['visitor', 'The date', 8],
      ['script', 'Leave me a date and I will see what is free around it.', 8],
      ['visitor', '14 to 17 March, but Upper Moss is full on the 15th', 6],
      ['team', 'It is, but two bunks came free this morning. I can hold them for an hour.', 4],
      ['note', 'Wrote in March, too: always four of them', 3],
      ['visitor', 'There are four of us …', 2],
    ],
  },
  {
    waits: false,
    lines: [
      ['visitor', 'Do you take cards?', 34],
      ['team', 'At all huts but Three Cairns.', 31],
    ],
  },
  {
    waits: false,
    isClosed: true,
    lines: [
      ['visitor', 'Thank you! One more thing: is there a drying room?', 300],
      ['team', 'There is, behind the stove.', 290],
    ],
  },
];

/** Who answers at the demo's huts, what they have ready, and some exchanges of the last hours, before `now`, UTC ms. */
export async function seedConversations(
  tx: Queryable,
  siteId: number,
  { ines, jonas, now }: { ines: number; jonas: number; now: number },
): Promise<void> {
  const zone = 'Europe/Vienna';
  await saveColleague(tx, siteId, {
    member: ines,
    answers: true,
    title: 'Hut warden',
    introduction: 'I have kept Lantern Col since 2014.',
    meeting: '',
    hours: { zone, week: EVERY_DAY, off: ['2026-12-24', '2026-12-25'] },
  });
  await saveColleague(tx, siteId, {
    member: jonas,
    answers: true,
    title: 'Bookings',
    introduction: '',
    meeting: '',
    hours: { zone, week: WEEKDAYS, off: [] },
  });
  for (const [nth, [name, text]] of SAVED.entries()) await insertSavedAnswer(tx, siteId, { id: `ans_${nth + 1}`, name, text });
  const shown = await many<{ id: string; visitor: number; campaign: string; view: string }>(
    tx,
    `select distinct on (visitor_id) showing.id, visitor_id as visitor, campaign_id as campaign, view_id as view from showing
      where site_id = $1 and campaign_id = 'camp_basket' and shown order by visitor_id desc, at desc limit $2`,
    [siteId, EXCHANGES.length],
  );
  for (const [nth, showing] of shown.entries()) {
    const exchange = EXCHANGES[nth];
    if (exchange) await insertExchange(tx, siteId, { showing, exchange, member: ines, now });
  }
}

async function insertExchange(
  tx: Queryable,
  siteId: number,
  {
    showing,
    exchange: { lines, waits, isClosed = false },
    member,
    now,
  }: { showing: { id: string; visitor: number; campaign: string; view: string }; exchange: Exchange; member: number; now: number },
): Promise<void> {
  const thread = randomUUID();
  const at = (minutesAgo: number): number => now - minutesAgo * 60_000;
  const [first, last] = [lines[0], lines.at(-1)];
  if (!first || !last) return;
  const answered = lines.find(([by]) => by === 'team');
  await tx.query(
    `insert into thread (site_id, id, visitor_id, campaign_id, showing_id, view_id, begun_at, state, closed_at, member_id, member_since, last_seq, last_at, last_by, last_text,
                         waits_since, asked_at, answered_at, visitor_seen, team_seen)
     values ($1, $2, $3, $4, $5, $6, at_ms($7), $8, case when $8 = 'closed' then at_ms($9) end, $10, case when $10::int is not null then at_ms($7) end, $11, at_ms($9), $12, $13,
             case when $14 then at_ms($9) end, at_ms($7), at_ms($15), $11, case when $14 then $11 - 1 else $11 end)`,
    [
      siteId,
      thread,
      showing.visitor,
      showing.campaign,
      showing.id,
      showing.view,
      at(first[2]),
      isClosed ? 'closed' : 'open',
      at(last[2]),
      answered ? member : null,
      lines.length,
      last[0],
      last[1],
      waits,
      answered ? at(answered[2]) : null,
    ],
  );
  for (const [nth, [by, text, minutesAgo]] of lines.entries())
    await tx.query(
      `insert into line (site_id, thread_id, seq, id, at, by, member_id, text) values ($1, $2, $3, $4, at_ms($5), $6, $7, $8)`,
      [siteId, thread, nth + 1, randomUUID(), at(minutesAgo), by, by === 'team' || by === 'note' ? member : null, text],
    );
}
