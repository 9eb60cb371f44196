/** How many pixels of a picture stand for one of the screen. */
const SHARP = 2;
const PAINTED = [
  'fill',
  'stroke',
  'font-family',
  'font-size',
  'font-weight',
  'opacity',
  'stroke-width',
  'stroke-dasharray',
  'text-anchor',
] as const;

/** A drawing as a file of its own: with the colours and fonts that it has on the screen, and on the screen's ground. */
export function svgText(drawing: SVGSVGElement): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const [originals, copies] = [drawing.querySelectorAll('*'), copy.querySelectorAll('*')];
  originals.forEach((original, index) => {
    const style = getComputedStyle(original);
    for (const name of PAINTED) copies[index]?.setAttribute(name, style.getPropertyValue(name));
  });
  const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  ground.setAttribute('width', '100%');
  ground.setAttribute('height', '100%');
  ground.setAttribute('fill', getComputedStyle(drawing.closest('.sheet') ?? document.body).backgroundColor);
  copy.prepend(ground);
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.removeAttribute('class');
  return new XMLSerializer().serializeToString(copy);
}

function save(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

export const saveSvg = (drawing: SVGSVGElement, name: string): void =>
  save(new Blob([svgText(drawing)], { type: 'image/svg+xml' }), `${name}.svg`);

/** @throws where the browser cannot draw it */
export async function savePng(drawing: SVGSVGElement, name: string): Promise<void> {
  const { width, height } = drawing.getBoundingClientRect();
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgText(drawing))}`;
  await picture.decode();
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.round(width * SHARP), Math.round(height * SHARP)];
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (!blob) throw new Error('The drawing could not be made a picture');
  save(blob, `${name}.png`);
}
