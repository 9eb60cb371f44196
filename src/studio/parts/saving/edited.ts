import type { EditedKind } from '@/server/db/trash';

/** Where each kind of thing that is edited has its API and its list, and how it is called. */
export const EDITED = {
  segment: { api: '/api/segments', list: '/segments', what: 'segment' },
  campaign: { api: '/api/campaigns', list: '/campaigns', what: 'campaign' },
  place: { api: '/api/places', list: '/setup/places', what: 'place' },
  page_set: { api: '/api/page-sets', list: '/setup/page-sets', what: 'page set' },
  goal: { api: '/api/goals', list: '/setup/goals', what: 'goal' },
} as const satisfies Readonly<Record<EditedKind, { readonly api: string; readonly list: string; readonly what: string }>>;
