import { hcl, rgb } from 'd3-color';

/** Relative luminance of a colour, 0 to 1 (WCAG 2.2, "relative luminance"). */
export function luminanceOf(hex: string): number {
  const { r, g, b } = rgb(hex);
  const [red, green, blue] = [r, g, b].map((channel) => {
    const share = channel / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** Contrast ratio of two colours, 1 to 21 (WCAG 2.2, "contrast ratio"). */
export function contrastOf(a: string, b: string): number {
  const [lighter, darker] = [luminanceOf(a), luminanceOf(b)].sort((x, y) => y - x) as [number, number];
  return (lighter + 0.05) / (darker + 0.05);
}

/** The colour nearest to `hex`, of its hue and strength, that has at least this ratio to `ground`; itself where it has. Towards black or white, whichever is nearer. */
export function nearestPassing(hex: string, ground: string, ratio: number): string {
  if (contrastOf(hex, ground) >= ratio) return rgb(hex).formatHex();
  const { h, c, l } = hcl(hex);
  const passing = ([0, 100] as const).flatMap((end) => {
    const at = (share: number): string => hcl(h, c, l + (end - l) * share).formatHex();
    if (contrastOf(at(1), ground) < ratio) return [];
    let [low, high] = [0, 1];
    for (let step = 0; step < 20; step++) {
      const middle = (low + high) / 2;
      if (contrastOf(at(middle), ground) >= ratio) high = middle;
      else low = middle;
    }
    return [{ hex: at(high), far: Math.abs(end - l) * high }];
  });
  // Black or white passes against anything at up to 4.5:1.
  return passing.toSorted((a, b) => a.far - b.far)[0]?.hex ?? (luminanceOf(ground) > 0.18 ? '#000000' : '#ffffff');
}
