// The first-run guide: the job once through, on what is recorded.
export interface GuideStep {
  readonly title: string;
  readonly text: string;
  readonly href: string;
  readonly words: string;
}

export const GUIDE: readonly GuideStep[] = [
  {
    title: 'See who is there',
    text: 'Each ribbon is a visit: pages are its lengths, the fill is how far was read, a flag is a message shown. They grow while people read.',
    href: '/today',
    words: 'Go to Today',
  },
  {
    title: 'Find the visits that matter',
    text: 'Type into the line above the list: a page, a source, “phone”, “2 min”. Open one to see why each campaign showed in it or not.',
    href: '/visits',
    words: 'Go to Visits',
  },
  {
    title: 'Say who',
    text: 'A segment is a sentence about people. Open one, change a number, and see how many are left and which condition takes whom away.',
    href: '/segments',
    words: 'Go to Segments',
  },
  {
    title: 'Write a rule beside its rehearsal',
    text: 'Open a campaign. Its rule says who, where, when and how often; beside it stand recorded visits, with a flag where it would have shown.',
    href: '/campaigns',
    words: 'Go to Campaigns',
  },
  {
    title: 'Publish',
    text: 'Switch a campaign on and publish from the top line. Visitors get the release within a minute, and an earlier state can come back.',
    href: '/campaigns',
    words: 'Go to Campaigns',
  },
  {
    title: 'Put the script on your own site',
    text: 'One line in the head of your pages, and Setup tells within seconds where it was seen.',
    href: '/setup',
    words: 'Go to Setup',
  },
];

/** The step that a kept preference names; undefined once the guide was left. */
export function stepFromPreference(kept: string | undefined): number | undefined {
  if (kept === undefined) return 0;
  const step = Number(kept);
  return kept !== '' && Number.isInteger(step) && step >= 0 && step < GUIDE.length ? step : undefined;
}
