import { buildColumns } from '@/core/rehearsal/columns';
import { encodeColumns } from '@/core/rehearsal/encode';
import { judgeByRecords } from '@/core/rehearsal/judge';
import { rehearsePlainly } from '@/core/rehearsal/plain';
import { rehearse } from '@/core/rehearsal/rehearse';
import { reportOn } from '@/core/rehearsal/report';
import type { Rule } from '@/core/rules/schema';
import { medianMs, once } from './median';
import { recordedVisits } from './recordedVisits';
import { sized } from './sized';

const VISITS = sized(200_000, 600);
/** The plain interpreter is measured on a part, and its time taken in proportion. */
const PLAIN_SHARE = 0.1;

const RULES: Readonly<Record<string, Rule>> = {
  selective: {
    people: {
      all: [
        { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 2 }, within: 30 },
        { kind: 'known', is: false },
      ],
    },
    pages: { on: [{ op: 'like', value: '/book/**' }] },
    moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 30 }, { kind: 'scroll', atLeast: 60 }] },
    pacing: { again: { days: 7 } },
  },
  unselective: {
    people: { kind: 'visits', times: { min: 1 } },
    moment: {
      any: [
        { kind: 'delay', seconds: 3 },
        { kind: 'scroll', atLeast: 10 },
      ],
    },
    pacing: { again: 'visit' },
  },
};

export async function benchRehearse(): Promise<void> {
  console.log(`Rehearsal of ${VISITS.toLocaleString('en')} simulated visits`);
  const visitors = recordedVisits(VISITS);
  const { columns, origin } = buildColumns(visitors);
  const known = { sets: {}, segments: {} };
  const part = visitors.slice(0, Math.round(visitors.length * PLAIN_SHARE));
  const partVisits = part.reduce((sum, { visitIds }) => sum + visitIds.length, 0);
  const packed = await encodeColumns(columns);
  console.log(
    `  ${columns.viewAt.length.toLocaleString('en')} views, ${columns.t.length.toLocaleString('en')} signals; on the wire ${(packed.length / columns.visitAt.length).toFixed(0)} bytes a visit (goal 160)`,
  );
  for (const [name, rule] of Object.entries(RULES)) {
    const campaigns = [{ id: 'c', place: 'overlay' as const, rule }];
    const judge = judgeByRecords(origin, known);
    const first = await once(() => rehearse({ columns, judge, campaigns, sets: {} }));
    let showings = 0;
    const warm = await medianMs(5, () => (showings = rehearse({ columns, judge, campaigns, sets: {} }).length));
    const plain = (await once(() => rehearsePlainly(part, { ...known, campaigns }))) * (columns.visitAt.length / partVisits);
    const goal = name === 'selective' ? 100 : 10;
    console.log(
      `  ${name}: ${showings.toLocaleString('en')} showings in ${warm.toFixed(0)} ms (first ${first.toFixed(0)} ms); plain interpreter ${plain.toFixed(0)} ms, from a tenth: ${(plain / warm).toFixed(0)} times, first run ${(plain / first).toFixed(0)} times (goal ${goal})`,
    );
    const report = await once(() => reportOn(campaigns[0] as (typeof campaigns)[0], { columns, judge, sets: {} }));
    console.log(`    with steps and every condition left out once: ${report.toFixed(0)} ms`);
  }
}
