// Pictures of the site's own library, as messages name them: "http://collector/i/KEY/HASH.webp".
import type { Flow } from '../flows/flow';
import type { Block } from './block';
import type { Message } from './message';

/** Smaller versions of a picture, the smallest first. */
export type PictureSizes = readonly { readonly hash: string; readonly width: number }[];

const OWN = /\/i\/[a-z0-9]+\/([\w-]{22})\.webp$/;

/** The hash of a picture of the library; undefined for any other address. */
export const hashIn = (address: string): string | undefined => OWN.exec(address)?.[1];

/** Hashes of the library's pictures that a document names, once each. */
export function picturesIn(document: unknown): string[] {
  const found = new Set<string>();
  const look = (value: unknown): void => {
    if (typeof value === 'string') {
      const hash = hashIn(value);
      if (hash !== undefined) found.add(hash);
    } else if (typeof value === 'object' && value !== null) Object.values(value).forEach(look);
  };
  look(document);
  return [...found];
}

/** A document with one picture in another's place: a block keeps its width, and takes the new one's proportions. Unchanged, it stays the same object. */
export function withPicture<T>(
  document: T,
  from: string,
  to: { readonly url: string; readonly width: number; readonly height: number },
): T {
  const within = (value: unknown): unknown => {
    if (typeof value === 'string') return hashIn(value) === from ? to.url : value;
    if (typeof value !== 'object' || value === null) return value;
    if (Array.isArray(value)) {
      const next = value.map(within);
      return next.some((one, index) => one !== value[index]) ? next : value;
    }
    const entries = Object.entries(value).map(([key, one]) => [key, within(one)] as const);
    if (!entries.some(([key, one]) => one !== (value as Record<string, unknown>)[key])) return value;
    const next = Object.fromEntries(entries) as { src?: unknown; width?: unknown; height?: unknown };
    const isFramed = next.src === to.url && typeof next.width === 'number' && typeof next.height === 'number';
    return isFramed ? { ...next, height: Math.max(1, Math.round(((next.width as number) * to.height) / to.width)) } : next;
  };
  return within(document) as T;
}

/** How wide a message is at most, in pixels. */
function widthOf(message: Message): number {
  if (message.format === 'popup') return message.width ?? 420;
  return 960;
}

/** Twice what is shown looks sharp on fine screens. */
const SHARP = 2;

/** A flow in which every picture of the library is no larger than it can be seen at. `sizesOf`: by its hash. */
export function withFittingPictures(flow: Flow, sizesOf: (hash: string) => PictureSizes | undefined): Flow {
  const fit = (block: Block, room: number): Block => {
    if (block.kind === 'columns') {
      const half = <B extends Block>(blocks: readonly B[]): B[] => blocks.map((one) => fit(one, room / 2) as B);
      return { ...block, start: half(block.start), end: half(block.end) };
    }
    if (block.kind !== 'picture') return block;
    const hash = hashIn(block.src);
    const needed = Math.min(block.width, room) * SHARP;
    const size = hash === undefined ? undefined : sizesOf(hash)?.find(({ width }) => width >= needed);
    return size && hash !== undefined ? { ...block, src: block.src.replace(hash, size.hash) } : block;
  };
  return {
    ...flow,
    messages: flow.messages.map((message) =>
      'blocks' in message ? { ...message, blocks: message.blocks.map((block) => fit(block, widthOf(message))) } : message,
    ),
  };
}
