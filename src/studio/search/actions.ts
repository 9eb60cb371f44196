// What search offers besides what it finds on the server. Pure.
import type { Hit } from '@/server/db/search';
import { AREA_KEYS } from '../keys/keys';

export interface Offer {
  readonly id: string;
  readonly group: string;
  readonly name: string;
  readonly note: string;
  readonly does: { readonly href: string } | { readonly run: Command };
}
export type Command = 'publish' | 'keys' | 'guide' | 'light' | 'dark' | 'system';

const COMMANDS: readonly { readonly run: Command; readonly name: string; readonly words: string }[] = [
  { run: 'publish', name: 'Publish what is changed', words: 'release' },
  { run: 'keys', name: 'Show the keys', words: 'help shortcuts keyboard' },
  { run: 'guide', name: 'Open the guide', words: 'help first steps start' },
  { run: 'light', name: 'Use light colours', words: 'theme' },
  { run: 'dark', name: 'Use dark colours', words: 'theme night' },
  { run: 'system', name: 'Use the colours of the system', words: 'theme' },
];
const SETUP = ['script', 'addresses', 'privacy', 'releases', 'page sets', 'places'];

/** Areas and actions that fit the text; each word has to occur. */
export function offersFor(text: string): Offer[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (...inside: string[]): boolean => words.every((word) => inside.join(' ').toLowerCase().includes(word));
  return [
    ...AREA_KEYS.filter(({ label, href }) => fits('go to', label, ...(href === '/setup' ? SETUP : []))).map(({ key, label, href }) => ({
      id: href,
      group: 'Go to',
      name: label,
      note: `g ${key}`,
      does: { href },
    })),
    ...COMMANDS.filter(({ name, words: more }) => fits(name, more)).map(({ run, name }) => ({
      id: run,
      group: 'Do',
      name,
      note: '',
      does: { run },
    })),
  ];
}

const GROUPS: Readonly<Record<Hit['kind'], string>> = {
  segment: 'Segments',
  campaign: 'Campaigns',
  'page set': 'Page sets',
  goal: 'Goals',
  place: 'Places',
  visitor: 'Visitors',
  lead: 'Leads',
  page: 'Visits to a page',
};

export function offerFromHit({ kind, id, name, note }: Hit): Offer {
  return { id: `${kind} ${id}`, group: GROUPS[kind], name, note, does: { href: hrefOf(kind, id, name) } };
}

function hrefOf(kind: Hit['kind'], id: string, name: string): string {
  switch (kind) {
    case 'segment':
      return `/segments/${id}`;
    case 'campaign':
      return `/campaigns/${id}`;
    case 'visitor':
      return `/visitors/${id}`;
    case 'lead':
      return `/leads?q=${encodeURIComponent(name)}`;
    case 'page':
      return `/visits?page=${encodeURIComponent(id)}`;
    case 'page set':
      return `/setup/page-sets/${id}`;
    case 'goal':
      return `/setup/goals/${id}`;
    case 'place':
      return `/setup/places/${id}`;
  }
}
