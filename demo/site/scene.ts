import { createDice } from '@/core/random/dice';
import type { DemoPage } from './page';

type Mood = NonNullable<DemoPage['mood']>;

const SKIES: Record<Mood, { sky: string; shades: readonly string[]; light: string }> = {
  evening: { sky: '#dfe3dc', shades: ['#b9c1bd', '#8d9a97', '#5f6f6e', '#3a4746'], light: '#c9b458' },
  lake: { sky: '#e3e6e1', shades: ['#bcc9c8', '#93a7a7', '#6a8383', '#47605f'], light: '#e0cf85' },
  fog: { sky: '#dcdedb', shades: ['#d0d4d1', '#c0c6c3', '#a9b1ae', '#8b9592'], light: '#ece9df' },
  snow: { sky: '#cfd8da', shades: ['#e6ebeb', '#d3dcdd', '#b7c4c6', '#8fa0a3'], light: '#f6f3ec' },
  night: { sky: '#2c3438', shades: ['#3b464a', '#333d41', '#2a3337', '#20282b'], light: '#e6d27a' },
};

/** A drawn scene of ridges for a page; the same seed gives the same mountains. */
export function drawScene(seed: string, given?: Mood): string {
  const dice = createDice(seed);
  const ridges = [0, 1, 2, 3].map((depth) => ridge(dice, { base: 120 + depth * 42, rough: 34 - depth * 5 }));
  const sun = { x: dice.whole(120, 1080), y: dice.whole(40, 80) };
  const hutX = dice.whole(250, 950);
  const mood = given ?? dice.pick(['evening', 'evening', 'lake', 'snow'] as const);
  const { sky, shades, light } = SKIES[mood];
  const flakes =
    mood === 'snow'
      ? Array.from(
          { length: 40 },
          () => `<circle cx="${dice.whole(0, 1200)}" cy="${dice.whole(0, 300)}" r="${dice.whole(1, 3)}" fill="#fff"/>`,
        ).join('')
      : '';
  const water =
    mood === 'lake'
      ? `<path d="M0 268h1200v32H0z" fill="#9db4b5"/><path d="M${hutX - 90} 280h150M${hutX + 120} 290h90" stroke="#dfe8e6" stroke-width="2"/>`
      : '';
  const window = mood === 'night' ? '#f3dd7f' : light;
  return `<svg class="scene" viewBox="0 0 1200 300" preserveAspectRatio="xMidYMid slice" role="img" aria-label="${NAMES[mood]}">
<rect width="1200" height="300" fill="${sky}"/><circle cx="${sun.x}" cy="${sun.y}" r="${mood === 'night' ? 14 : 26}" fill="${light}"/>
${ridges.map((path, depth) => `<path d="${path}" fill="${shades[depth]}"/>`).join('')}${water}
<g transform="translate(${hutX} 232)"><path d="M0 0h46v26H0z" fill="#4b3a2c"/><path d="M-6 2 23-18 52 2z" fill="${mood === 'snow' ? '#f6f3ec' : '#2a211a'}"/><path d="M19 10h9v16h-9z" fill="${window}"/></g>${flakes}</svg>`;
}

const NAMES: Record<Mood, string> = {
  evening: 'Ridges in evening light',
  lake: 'A hut at the water',
  fog: 'Ridges in fog',
  snow: 'A hut in falling snow',
  night: 'A lit window at night',
};

function ridge(dice: ReturnType<typeof createDice>, { base, rough }: { base: number; rough: number }): string {
  const points: string[] = [];
  for (let x = 0; x <= 1200; x += 60) points.push(`${x} ${Math.round(base + dice.between(-rough, rough))}`);
  return `M0 300L${points.join('L')}L1200 300Z`;
}
