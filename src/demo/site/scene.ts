import { createDice } from '../dice';

/** A drawn scene of ridges for a page; the same seed gives the same mountains. */
export function drawScene(seed: string): string {
  const dice = createDice(seed);
  const ridges = [0, 1, 2, 3].map((depth) => ridge(dice, { base: 120 + depth * 42, rough: 34 - depth * 5 }));
  const shades = ['#b9c1bd', '#8d9a97', '#5f6f6e', '#3a4746'];
  const sun = { x: dice.whole(120, 1080), y: dice.whole(40, 80) };
  const hutX = dice.whole(250, 950);
  return `<svg class="scene" viewBox="0 0 1200 300" preserveAspectRatio="xMidYMid slice" role="img" aria-label="Ridges in evening light">
<rect width="1200" height="300" fill="#dfe3dc"/><circle cx="${sun.x}" cy="${sun.y}" r="26" fill="#c9b458"/>
${ridges.map((path, depth) => `<path d="${path}" fill="${shades[depth]}"/>`).join('')}
<g transform="translate(${hutX} 232)"><path d="M0 0h46v26H0z" fill="#4b3a2c"/><path d="M-6 2 23-18 52 2z" fill="#2a211a"/><path d="M19 10h9v16h-9z" fill="#c9b458"/></g></svg>`;
}

function ridge(dice: ReturnType<typeof createDice>, { base, rough }: { base: number; rough: number }): string {
  const points: string[] = [];
  for (let x = 0; x <= 1200; x += 60) points.push(`${x} ${Math.round(base + dice.between(-rough, rough))}`);
  return `M0 300L${points.join('L')}L1200 300Z`;
}
