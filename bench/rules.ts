import type { Moment } from '@/core/moments/moment';
import type { Signal } from '@/core/moments/signal';
import { openTimeline } from '@/core/moments/timeline';
import type { Candidate } from '@/core/pacing/decider';
import { createDecider } from '@/core/pacing/decider';
import { emptyPacing } from '@/core/pacing/pacing';
import { pagesHold } from '@/core/pages/pages';
import type { Expr } from '@/core/logic/expr';
import { median } from './median';
import { sized } from './sized';

const CAMPAIGNS = 100;
const SIGNALS = sized(4000, 600);

/** What one signal costs in a page with 100 live campaigns, none of which shows. */
export function benchRules(): void {
  const page = { url: 'https://www.tarnhollow.example/huts/upper-moss?ref=a', title: 'Upper Moss', labels: ['hut'] };
  const candidates = Array.from({ length: CAMPAIGNS }, (_, nth): Candidate => {
    const moment: Expr<Moment> = {
      all: [
        { any: [{ kind: 'exit' }, { kind: 'idle', seconds: 600 }] },
        { kind: 'delay', seconds: 5 + nth },
        { kind: 'scroll', atLeast: 1 + (nth % 90) },
      ],
    };
    const pages = {
      on: [
        { op: 'like' as const, value: '/routes/**' },
        { op: 'starts' as const, value: `/book/${nth}` },
      ],
    };
    return { id: `c${nth}`, place: 'overlay', moment, pacing: { again: { days: 7 } }, fits: () => pagesHold(pages, page, {}) };
  });
  const line = openTimeline();
  const decider = createDecider({ candidates, line, openedAt: 0, record: emptyPacing(0) });
  const kinds: readonly Signal['s'][] = ['scroll', 'input', 'exit', 'click'];
  const taken: number[] = [];
  for (let nth = 0; nth < SIGNALS; nth++) {
    const s = kinds[nth % kinds.length];
    const t = nth * 50;
    const signal: Signal =
      s === 'scroll' ? { t, s, depth: nth % 100 } : s === 'click' ? { t, s, on: [] } : { t, s: s === 'exit' ? 'exit' : 'input' };
    const started = performance.now();
    decider.signal(signal);
    decider.wakesAt();
    taken.push(performance.now() - started);
  }
  console.log(`Live decision: ${CAMPAIGNS} campaigns, one signal`);
  console.log(
    `  median ${(median(taken.slice(500)) * 1000).toFixed(0)} µs, worst of ${taken.length - 500}: ${Math.max(...taken.slice(500)).toFixed(2)} ms (goal 100 µs)`,
  );
}
