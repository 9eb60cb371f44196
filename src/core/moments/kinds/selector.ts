// What moments that name an element of the page have in common.
import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import type { Said } from '../../typing/said';
import type { Timeline } from '../timeline';

export const selectorSchema = () => z.string().max(500).regex(/\S/);

/** Unknown where the selector was not watched when the page view was recorded. */
export const unlessUnwatched = (line: Timeline, selector: string, holds: boolean): Truth =>
  !holds && line.before.watched && !line.before.watched.includes(selector) ? null : holds;

const TAGS: readonly string[] = [
  'a',
  'button',
  'footer',
  'form',
  'h1',
  'h2',
  'h3',
  'header',
  'img',
  'input',
  'main',
  'nav',
  'section',
  'select',
  'table',
  'textarea',
  'video',
];

const NO_NAMES: readonly string[] = ['bottom', 'end', 'top', 'middle', 'half', 'halfway', 'page', 'down', 'up'];

/** The elements that were said: a selector as typed or in quotes; a word is a tag, or the class or id of that name. */
export function selectorsSaid({ selectors, quoted }: Said, name: string): string[] {
  if (selectors.length + quoted.length > 1) return [];
  const [given] = [...selectors, ...quoted];
  if (given !== undefined) return name === '' ? [given] : [];
  if (NO_NAMES.includes(name)) return [];
  if (/^[a-z][\w-]*$/i.test(name)) return TAGS.includes(name) ? [name] : [`.${name}`, `#${name}`];
  return [];
}
