export const KINDS = [
  'home',
  'huts',
  'hut',
  'routes',
  'route',
  'journal',
  'article',
  'gear',
  'kit',
  'courses',
  'course',
  'membership',
  'book',
  'done',
  'offers',
  'contact',
  'account',
] as const;

export interface DemoPage {
  readonly path: string;
  readonly title: string;
  readonly kind: (typeof KINDS)[number];
  readonly lead: string;
  readonly paragraphs: readonly string[];
  readonly height: number;
  readonly mood?: 'evening' | 'lake' | 'fog' | 'snow' | 'night';
}

// Said on many pages, as such sites do.
export const WARDEN =
  'The warden lights the stove at four and puts soup on the table at half past six. Come in wet, leave dry: the boot room has its own heater and a line for everything that drips.';
export const WATER =
  'Water comes from a spring above the hut and is good to drink from June to the first hard frost. Later in the year, ask at the door; there is always tea.';
export const SILENCE =
  'Lights go out at ten. Bunks are assigned on arrival, families first, snorers last, and nobody is turned away in bad weather.';
export const WAY =
  'The path is marked with yellow lichen-coloured posts. In fog, keep to the posts even where the short cut looks obvious; it ends at a wall that was not there in your grandfather’s time either.';
export const LANTERN =
  'When the lantern is lit, somebody is still out. It stays lit until the last name on the slate is crossed off, however late that is.';
export const SHEEP = 'The sheep know the way better than most of us. They will not share the bench, but they will move over for soup.';
export const POST =
  'Post walks up with the warden on Mondays and Thursdays. Parcels wait at Skarn Shelter until somebody goes up with an empty back.';
