/** The pages of the demo site. `height` is how many screens long a page reads; the simulator uses it too. */
export interface DemoPage {
  readonly path: string;
  readonly title: string;
  readonly kind:
    'home' | 'huts' | 'hut' | 'routes' | 'route' | 'journal' | 'article' | 'membership' | 'book' | 'done' | 'offers' | 'contact';
  readonly lead: string;
  readonly paragraphs: readonly string[];
  readonly height: number;
}

const hut = (slug: string, name: string, lead: string, paragraphs: string[]): DemoPage => ({
  path: `/huts/${slug}`,
  title: name,
  kind: 'hut',
  lead,
  paragraphs,
  height: 3,
});
const route = (slug: string, name: string, lead: string, paragraphs: string[]): DemoPage => ({
  path: `/routes/${slug}`,
  title: name,
  kind: 'route',
  lead,
  paragraphs,
  height: 3.5,
});

const WARDEN =
  'The warden lights the stove at four and puts soup on the table at half past six. Come in wet, leave dry: the boot room has its own heater and a line for everything that drips.';
const WATER =
  'Water comes from a spring above the hut and is good to drink from June to the first hard frost. Later in the year, ask at the door; there is always tea.';
const SILENCE =
  'Lights go out at ten. Bunks are assigned on arrival, families first, snorers last, and nobody is turned away in bad weather.';
const WAY =
  'The path is marked with yellow lichen-coloured posts. In fog, keep to the posts even where the short cut looks obvious; it ends at a wall that was not there in your grandfather’s time either.';

export const PAGES: readonly DemoPage[] = [
  {
    path: '/',
    title: 'Tarnhollow Huts',
    kind: 'home',
    height: 2.5,
    lead: 'Nine huts, one ridge, and a bunk for whoever walks up.',
    paragraphs: [
      'We are a cooperative of wardens, walkers and one retired ferryman. Since 1921 we have kept the huts between Skarn Water and the Lantern Col dry, warm and open.',
      WARDEN,
      'Read about the routes, pick a hut, book a bunk. Members sleep for half and vote on the colour of the shutters.',
    ],
  },
  {
    path: '/huts',
    title: 'Our huts',
    kind: 'huts',
    height: 2,
    lead: 'From the lake shore to the col, each a day’s walk from the next.',
    paragraphs: ['All huts have a stove, a drying room and more blankets than bunks. Three stay open through the winter.'],
  },
  hut('skarn-shelter', 'Skarn Shelter', 'Twelve bunks on the shore of Skarn Water, 640 m.', [
    'The lowest of our huts and the first one you reach from the valley. Families start here, and so do those who missed the last bus.',
    WARDEN,
    WATER,
    SILENCE,
  ]),
  hut('upper-moss', 'Upper Moss', 'Twenty-two bunks above the moss, 1,180 m.', [
    'Wide views, soft ground, and a library of forty damp novels. The warden plays the accordion on Saturdays unless asked not to.',
    WATER,
    WARDEN,
    WAY,
  ]),
  hut('lantern-col', 'Lantern Col', 'Sixteen bunks under the col, 1,720 m.', [
    'The lantern in the gable burns whenever somebody is on the mountain. In winter it is the only light for nine kilometres.',
    WAY,
    WATER,
    SILENCE,
  ]),
  hut('three-cairns', 'Three Cairns', 'Thirty bunks where three paths meet, 1,410 m.', [
    'Everyone who crosses the ridge comes through here. Book early for the long weekends, or come on a Tuesday.',
    SILENCE,
    WARDEN,
    WATER,
  ]),
  {
    path: '/routes',
    title: 'Routes',
    kind: 'routes',
    height: 2,
    lead: 'Walk them in any order. The posts do not mind.',
    paragraphs: ['Each guide has the day’s ascent, the water on the way, and what to do when the cloud comes down.'],
  },
  route('ridge-traverse', 'The ridge traverse', 'Four days, three huts, 3,900 m of ascent.', [
    'The classic. Day one climbs from the lake to Upper Moss; day two keeps to the crest as long as the weather lets it.',
    WAY,
    WATER,
    'Day three is long. Start before seven, eat at Three Cairns, and be over the col by four in the afternoon.',
    SILENCE,
  ]),
  route('valley-loop', 'The valley loop', 'One day and a bunk, for short legs.', [
    'Round the lake and back by the old drove road. Push-chairs with large wheels have made it; those with small ones have not.',
    WATER,
    WAY,
  ]),
  {
    path: '/journal',
    title: 'Journal',
    kind: 'journal',
    height: 1.8,
    lead: 'Notes from wardens, walkers and the weather.',
    paragraphs: ['Long reads for long evenings.'],
  },
  {
    path: '/journal/packing-for-snow',
    title: 'Packing for snow',
    kind: 'article',
    height: 6,
    lead: 'What goes into the rucksack when the posts are half buried.',
    paragraphs: [
      'Begin with what you will not carry: the second pair of trousers, the third guide book, and the hope that it will clear by noon.',
      WAY,
      'Two pairs of gloves, one of them always dry. A sleeping bag liner; the blankets are ours. A head torch for the way to the wood shed, and a second battery for the way back.',
      WARDEN,
      WATER,
      'Write down the hut’s number before you leave the valley. If the lantern is lit we are looking for you already.',
      SILENCE,
      WARDEN,
    ],
  },
  {
    path: '/membership',
    title: 'Membership',
    kind: 'membership',
    height: 2.2,
    lead: 'Half-price bunks, a vote, and a key to the wood shed.',
    paragraphs: [
      'Members pay 48 a year and sleep for half. Families pay for the grown-ups only.',
      'The assembly meets in March at Three Cairns; soup is served whatever the vote.',
    ],
  },
  { path: '/book', title: 'Book a bunk', kind: 'book', height: 1.6, lead: 'Choose a hut and a night.', paragraphs: [] },
  {
    path: '/book/done',
    title: 'Bunk booked',
    kind: 'done',
    height: 1,
    lead: 'See you at the door.',
    paragraphs: ['We have written your name on a slate. Bring a warm hat.'],
  },
  {
    path: '/offers',
    title: 'Offers',
    kind: 'offers',
    height: 1.6,
    lead: 'Quiet weeks, cheap bunks.',
    paragraphs: ['Sunday to Thursday outside the holidays every bunk costs a third less.'],
  },
  {
    path: '/contact',
    title: 'Contact',
    kind: 'contact',
    height: 1.2,
    lead: 'Write, or ring the bell at Skarn Shelter.',
    paragraphs: ['Post takes a week in summer and walks up with the warden in winter.'],
  },
];

export const findPage = (path: string): DemoPage | undefined => PAGES.find((page) => page.path === (path.replace(/\/+$/, '') || '/'));
