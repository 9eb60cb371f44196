import type { Role } from '../db/members';
import { pathFinder } from '../http/paths';

/**
 * What somebody of a site may: `self`: what concerns their own account; `look`: everything that is nobody's in particular; `people`: visitors, leads and
 * conversations; `answer`: them, and write to them; `export`: take data out; `edit`: change what is published; `own`: people, the site, connections, erasure.
 */
export const RIGHTS = ['self', 'look', 'people', 'answer', 'export', 'edit', 'own'] as const;
export type Right = (typeof RIGHTS)[number];

const OF: { readonly [R in Role]: readonly Right[] } = {
  viewer: ['self', 'look'],
  agent: ['self', 'look', 'people', 'answer'],
  editor: ['self', 'look', 'people', 'answer', 'export', 'edit'],
  owner: RIGHTS,
};

export const may = (role: Role, right: Right): boolean => OF[role].includes(right);

/** Who may open which screen. */
export const PAGES: Readonly<Record<string, Right>> = {
  '/campaigns/{id}': 'look',
  '/campaigns/begin': 'look',
  '/campaigns': 'look',
  '/conversations': 'people',
  '/leads/{id}': 'people',
  '/leads': 'people',
  '/': 'look',
  '/results': 'look',
  '/segments/{id}': 'look',
  '/segments/overlap': 'look',
  '/segments': 'look',
  '/setup/brand': 'look',
  '/setup/connections/{id}': 'edit',
  '/setup/connections': 'edit',
  '/setup/deleted': 'look',
  '/setup/goals/{id}': 'look',
  '/setup/goals': 'look',
  '/setup/log': 'look',
  '/setup/page-sets/{id}': 'look',
  '/setup/page-sets': 'look',
  '/setup': 'look',
  '/setup/people': 'look',
  '/setup/pictures': 'look',
  '/setup/places/{id}': 'look',
  '/setup/places': 'look',
  '/setup/privacy': 'look',
  '/setup/releases': 'look',
  '/setup/sites': 'look',
  '/setup/team': 'look',
  '/no-access': 'self',
  '/account': 'self',
  '/today': 'look',
  '/visitors/{id}': 'people',
  '/visits': 'look',
};

const findPage = pathFinder(Object.keys(PAGES));

/** What a screen needs; undefined where it is none of ours. */
export const rightOfPage = (path: string): Right | undefined => {
  const found = findPage(path);
  return found && PAGES[found.path];
};

const WORDS: { readonly [R in Right]: string } = {
  self: 'do this',
  look: 'look at this',
  people: 'see visitors, leads or conversations',
  answer: 'answer, or change what is said of leads',
  export: 'take data out',
  edit: 'change anything',
  own: 'do this: it is an owner’s',
};

export const refusedWords = (role: Role, right: Right): string => `As ${role} you cannot ${WORDS[right]}; ask an owner`;
