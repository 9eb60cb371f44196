import { finished, partTyped } from '../typing/pageTyped';
import type { Said } from '../typing/said';
import { called, spoken } from '../typing/spoken';
import type { Vocabulary } from '../typing/vocabulary';
import type { PagePattern } from './pattern';

export interface PageReading {
  readonly pattern: PagePattern | 'any';
  readonly sureness: number;
}

/** The pages that were said: paths, parts of addresses, page sets, the home page. "not" and "except" are for whoever asks. */
export function pagesTyped(said: Said, { pages, sets }: Vocabulary): PageReading[] {
  const plain = (said.isNegated ? said.text : said.raw).replace(/^(?:but|show|only|on|at|the|when)\s+(?=\S)/i, '').trim();
  if (/^(?:any|all|every|each)(?: the)? pages?$|^everywhere$|^whole site$|^the whole site$|^all over the site$/i.test(plain))
    return [{ pattern: 'any', sureness: 3 }];
  if (/^(?:the )?(?:home ?page|front ?page|start ?page|landing of the site|home)$/i.test(plain))
    return [{ pattern: { op: 'is', value: '/' }, sureness: 3 }];
  const part = partTyped(plain);
  if (part) return [{ pattern: part, sureness: 3.05 }];
  if (
    said.pages.length > 0 &&
    spoken(said, {
      also: ['page', 'pages', 'url', 'path', 'address', 'only', 'or', 'and', 'below', 'under', 'section', 'visit', 'visits', 'site'],
      pages: true,
    })
  ) {
    const isBelow = said.words.some((word) => ['below', 'under', 'section'].includes(word));
    return said.pages.map((pattern): PageReading => {
      const whole = isBelow ? below(pattern) : pattern;
      return { pattern: said.pages.length === 1 ? finished(whole, pages) : whole, sureness: 2.3 };
    });
  }
  return called(plain.replace(/^(?:page set|pages?|set) /i, ''), sets, ({ name }) => name).map(({ one, sureness }) => ({
    pattern: { set: one.id },
    sureness: sureness + 0.2,
  }));
}

const below = (pattern: PagePattern): PagePattern =>
  'set' in pattern || pattern.value?.includes('*') ? pattern : { ...pattern, op: 'like', value: `${pattern.value?.replace(/\/$/, '')}/**` };
