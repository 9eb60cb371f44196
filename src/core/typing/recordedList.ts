/** Lists of what the site has recorded that a field can offer. */
export const RECORDED_LISTS = ['events', 'traits', 'tags', 'countries', 'cities', 'sources', 'utmCampaigns', 'languages'] as const;
export type RecordedList = (typeof RECORDED_LISTS)[number];
