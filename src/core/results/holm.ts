/** Holm's step-down procedure (1979): chances adjusted so that all of them together keep the error rate. In the given order. */
export function holm(chances: readonly number[]): number[] {
  const order = chances.map((_, index) => index).sort((a, b) => (chances[a] as number) - (chances[b] as number));
  const adjusted = new Array<number>(chances.length).fill(1);
  let highest = 0;
  order.forEach((index, rank) => {
    highest = Math.max(highest, Math.min(1, (chances[index] as number) * (chances.length - rank)));
    adjusted[index] = highest;
  });
  return adjusted;
}
