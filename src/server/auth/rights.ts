import type { Role } from '../db/members';

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

export type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';

/** Who may ask what: every request that the studio answers. What is not here is answered to nobody; a test holds it to the routes that there are. */
export const ROUTES: Readonly<Record<string, Partial<Record<Method, Right | 'anybody'>>>> = {
  '/api/account': { PUT: 'self' },
  '/api/account/factor': { POST: 'self', PUT: 'self', DELETE: 'self' },
  '/api/account/password': { PUT: 'self' },
  '/api/account/sessions': { DELETE: 'self' },
  '/api/account/sessions/[id]': { DELETE: 'self' },
  '/api/campaigns/[id]/answering': { GET: 'look', PUT: 'edit' },
  '/api/campaigns/[id]/board': { GET: 'look', PUT: 'edit' },
  '/api/campaigns/[id]/conversations': { GET: 'look' },
  '/api/campaigns/[id]/foretold': { GET: 'look' },
  '/api/campaigns/[id]/history': { GET: 'look' },
  '/api/campaigns/[id]/purpose': { PUT: 'edit' },
  '/api/campaigns/[id]/results': { GET: 'look' },
  '/api/campaigns/[id]': { PUT: 'edit', POST: 'edit', DELETE: 'edit' },
  '/api/campaigns/[id]/schedule': { PUT: 'edit' },
  '/api/campaigns/[id]/sends': { GET: 'edit', PUT: 'edit' },
  '/api/campaigns/[id]/sends/try': { POST: 'edit' },
  '/api/campaigns/[id]/ways': { GET: 'look' },
  '/api/campaigns/order/rehearse': { POST: 'look' },
  '/api/campaigns/order': { PUT: 'edit' },
  '/api/campaigns': { POST: 'edit' },
  '/api/connections/[id]/check': { POST: 'edit' },
  '/api/connections/[id]': { PUT: 'own', DELETE: 'own' },
  '/api/connections': { GET: 'look', POST: 'own' },
  '/api/conversations/[id]/pictures/[picture]': { GET: 'people' },
  '/api/conversations/[id]/pictures': { POST: 'answer' },
  '/api/conversations/[id]': { GET: 'people', POST: 'answer' },
  '/api/conversations/[id]/who': { GET: 'people' },
  '/api/conversations/live': { GET: 'people' },
  '/api/conversations': { GET: 'people' },
  '/api/deliveries': { POST: 'edit' },
  '/api/editing': { POST: 'look' },
  '/api/goals/[id]': { PUT: 'edit', DELETE: 'edit' },
  '/api/goals/main': { PUT: 'edit' },
  '/api/goals/reached': { POST: 'look' },
  '/api/goals': { POST: 'edit' },
  '/api/leads/[id]': { PUT: 'answer' },
  '/api/leads/[id]/withdrawn': { POST: 'edit' },
  '/api/leads': { POST: 'answer' },
  '/api/lint': { POST: 'look' },
  '/api/live': { GET: 'look' },
  '/api/map/borders': { GET: 'look' },
  '/api/map/towns': { GET: 'look' },
  '/api/map/visitors': { GET: 'look' },
  '/api/members/[id]': { PUT: 'own', DELETE: 'own' },
  '/api/members/invitations': { POST: 'own' },
  '/api/members/invitations/[id]': { DELETE: 'own' },
  '/api/page-sets/[id]': { PUT: 'edit', DELETE: 'edit' },
  '/api/page-sets': { POST: 'edit' },
  '/api/people/[id]/calendar': { PUT: 'answer' },
  '/api/people/[id]/picture': { POST: 'answer', DELETE: 'answer' },
  '/api/people/[id]': { PUT: 'answer' },
  '/api/people/presence': { PUT: 'answer' },
  '/api/pictures/[hash]': { POST: 'edit' },
  '/api/pictures': { GET: 'look', POST: 'edit' },
  '/api/places/[id]': { PUT: 'edit', DELETE: 'edit' },
  '/api/places/count': { POST: 'look' },
  '/api/places/import': { POST: 'edit' },
  '/api/places': { POST: 'edit' },
  '/api/privacy/erasures': { POST: 'own' },
  '/api/privacy/kept': { PUT: 'own' },
  '/api/privacy/person': { GET: 'own' },
  '/api/purposes/[id]': { PUT: 'edit' },
  '/api/purposes': { GET: 'look', POST: 'edit' },
  '/api/rehearse/answers': { POST: 'look' },
  '/api/rehearse': { POST: 'look' },
  '/api/rehearse/visits': { GET: 'look' },
  '/api/releases/[number]/back': { POST: 'edit' },
  '/api/releases': { POST: 'edit' },
  '/api/results/weekly': { GET: 'self', PUT: 'self', POST: 'self' },
  '/api/saved-answers/[id]': { DELETE: 'answer' },
  '/api/saved-answers': { GET: 'people', POST: 'answer' },
  '/api/search': { GET: 'look' },
  '/api/segments/[id]/kept': { GET: 'look', PUT: 'edit', POST: 'edit' },
  '/api/segments/[id]': { GET: 'look', PUT: 'edit', DELETE: 'edit' },
  '/api/segments/contributions': { POST: 'look' },
  '/api/segments/import': { POST: 'edit' },
  '/api/segments/overlap': { POST: 'look' },
  '/api/segments': { POST: 'edit' },
  '/api/segments/size': { POST: 'look' },
  '/api/segments/sizes': { GET: 'look' },
  '/api/segments/trend': { POST: 'look' },
  '/api/segments/trends': { GET: 'look' },
  '/api/site/addresses': { PUT: 'own' },
  '/api/site/brand': { GET: 'look', PUT: 'edit' },
  '/api/site/budget': { PUT: 'edit' },
  '/api/site/check': { GET: 'look' },
  '/api/site/events-secret': { POST: 'own' },
  '/api/site/import': { POST: 'edit' },
  '/api/site/look': { POST: 'edit' },
  '/api/site/privacy': { PUT: 'own' },
  '/api/site/signing': { PUT: 'own' },
  '/api/sites/[id]': { POST: 'self' },
  '/api/sites': { POST: 'own' },
  '/api/starting-points/[id]': { DELETE: 'edit' },
  '/api/starting-points': { POST: 'edit' },
  '/api/team/[id]': { DELETE: 'edit' },
  '/api/today': { GET: 'look' },
  '/api/trash': { POST: 'edit' },
  '/api/tryouts/[id]': { GET: 'edit' },
  '/api/tryouts': { POST: 'edit' },
  '/api/values': { GET: 'look' },
  '/api/visitors/[id]/why': { GET: 'people' },
  '/api/visitors/known': { GET: 'people' },
  '/api/visits': { GET: 'look' },
  '/api/visits/some': { POST: 'look' },
  '/conversations.csv': { GET: 'export' },
  '/hours.ics': { GET: 'answer' },
  '/leads.csv': { GET: 'export' },
  '/leads.jsonl': { GET: 'export' },
  '/members.csv': { GET: 'export' },
  '/openapi.json': { GET: 'anybody' },
  '/person.json': { GET: 'own' },
  '/places.geojson': { GET: 'export' },
  '/results.csv': { GET: 'export' },
  '/segments.json': { GET: 'export' },
  '/site.json': { GET: 'export' },
};

/** Who may open which screen. */
export const PAGES: Readonly<Record<string, Right>> = {
  '/campaigns/[id]': 'look',
  '/campaigns/begin': 'look',
  '/campaigns': 'look',
  '/conversations': 'people',
  '/leads/[id]': 'people',
  '/leads': 'people',
  '/': 'look',
  '/results': 'look',
  '/segments/[id]': 'look',
  '/segments/overlap': 'look',
  '/segments': 'look',
  '/setup/brand': 'look',
  '/setup/connections/[id]': 'edit',
  '/setup/connections': 'edit',
  '/setup/goals/[id]': 'look',
  '/setup/goals': 'look',
  '/setup/log': 'look',
  '/setup/page-sets/[id]': 'look',
  '/setup/page-sets': 'look',
  '/setup': 'look',
  '/setup/people': 'look',
  '/setup/pictures': 'look',
  '/setup/places/[id]': 'look',
  '/setup/places': 'look',
  '/setup/privacy': 'look',
  '/setup/releases': 'look',
  '/setup/sites': 'look',
  '/setup/team': 'look',
  '/no-access': 'self',
  '/account': 'self',
  '/today': 'look',
  '/visitors/[id]': 'people',
  '/visits': 'look',
};

interface Pattern {
  readonly path: string;
  readonly regex: RegExp;
}

// What is named in full goes before what takes anything.
const patternsOf = (table: object): readonly Pattern[] =>
  Object.keys(table)
    .map((path) => ({ path, regex: new RegExp(`^${path.replace(/[.]/g, '[.]').replace(/\[\w+\]/g, '[^/]+')}/?$`) }))
    .sort((a, b) => (a.path.match(/\[/g)?.length ?? 0) - (b.path.match(/\[/g)?.length ?? 0));
const [ROUTE_PATTERNS, PAGE_PATTERNS] = [patternsOf(ROUTES), patternsOf(PAGES)];
const found = (patterns: readonly Pattern[], path: string): string | undefined => patterns.find(({ regex }) => regex.test(path))?.path;

/** What a request needs; undefined where it is none of ours. */
export const rightOf = (path: string, method: string): Right | 'anybody' | undefined => {
  const route = found(ROUTE_PATTERNS, path);
  const methods = route === undefined ? undefined : ROUTES[route];
  return methods && Object.hasOwn(methods, method) ? methods[method as Method] : undefined;
};

/** What a screen needs; undefined where it is none of ours. */
export const rightOfPage = (path: string): Right | undefined => {
  const page = found(PAGE_PATTERNS, path);
  return page === undefined ? undefined : PAGES[page];
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
