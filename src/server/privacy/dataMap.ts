/** Whose data a table holds. `visitors`: of somebody in particular. `few`: of visitors, so that nobody can be told from it. */
export type Whose = 'visitors' | 'few' | 'team' | 'site' | 'operation';

export interface Mapped {
  readonly whose: Whose;
  /** What it holds and what for. */
  readonly what: string;
  /** Of `visitors`: how long. */
  readonly kept?: 'visits' | 'leads' | 'conversations';
}

/** Every table there is, and whose data it holds; tests hold it to the database, and erasure and retention to it. */
export const DATA_MAP: Readonly<Record<string, Mapped>> = {
  visitor: {
    whose: 'visitors',
    kept: 'visits',
    what: 'A browser by a random id, with device, language and zone; email and customer id where the site has said them',
  },
  visitor_change: {
    whose: 'visitors',
    kept: 'visits',
    what: 'Traits, tags, points, email and customer id with their instants: who belongs to which segment',
  },
  visit: {
    whose: 'visitors',
    kept: 'visits',
    what: 'When somebody came, from where (source, town) and in which weather; no network address',
  },
  page_view: {
    whose: 'visitors',
    kept: 'visits',
    what: 'Which pages they looked at, how far and how long; parameters of addresses, in the fragment too, only where the site allows them',
  },
  signal_piece: {
    whose: 'visitors',
    kept: 'visits',
    what: 'What they did on a page (scrolled, clicked, left), for rehearsals; nothing of what is typed',
  },
  event: { whose: 'visitors', kept: 'visits', what: 'What the site has reported of them, with its values' },
  showing: { whose: 'visitors', kept: 'visits', what: 'Which messages they were shown: pacing and results' },
  outcome: { whose: 'visitors', kept: 'visits', what: 'What they did with a message' },
  flow_step: { whose: 'visitors', kept: 'visits', what: 'Which message of a flow came next' },
  lead: {
    whose: 'visitors',
    kept: 'leads',
    what: 'Forms that they sent: email, answers, what they agreed to and in which words, tags and notes of the team',
  },
  sent_form: {
    whose: 'visitors',
    kept: 'visits',
    what: 'That they sent a form, and when, after what they wrote is gone: results count it',
  },
  delivery: { whose: 'visitors', kept: 'leads', what: 'What waits to be sent to a connection, or was' },
  kept_member: { whose: 'visitors', kept: 'leads', what: 'Emails of segments that are kept in step with a connection' },
  exchange: { whose: 'visitors', kept: 'leads', what: 'The last hundred exchanges with a connection, with what the service said' },
  failed_task: {
    whose: 'visitors',
    kept: 'leads',
    what: 'What could not be done by itself (a mail, say) and why, for thirty days; what a mail server said may name an email',
  },
  thread: { whose: 'visitors', kept: 'conversations', what: 'A conversation: when it began, who has it, where a copy went' },
  line: { whose: 'visitors', kept: 'conversations', what: 'What was said in it' },
  line_picture: { whose: 'visitors', kept: 'conversations', what: 'Pictures that were sent in it, encoded anew' },
  sealed_visits: {
    whose: 'visitors',
    kept: 'visits',
    what: 'A day’s visits in columns, for counting and rehearsing; made anew from the rows above',
  },
  sealed_day: { whose: 'visitors', kept: 'visits', what: 'Which visitor, by number, looked at which page on a day' },
  standing: {
    whose: 'visitors',
    kept: 'visits',
    what: 'What conditions say of each visitor, by number, and for how long: taken up after a start, made anew at will',
  },
  page_entry: { whose: 'visitors', kept: 'visits', what: 'Addresses and titles of pages that were looked at' },
  last_answer: { whose: 'few', what: 'What counting said last: sizes and lines' },
  segment_line: { whose: 'few', what: 'How many people segments had at midnights that are over' },
  late_day: { whose: 'few', what: 'Days that are to be counted anew' },
  visitors_gone: { whose: 'few', what: 'How often visitors were taken away' },
  fault: { whose: 'few', what: 'Faults of the page script by day and words, not by whom they befell' },
  fault_counted: { whose: 'few', what: 'Which faults were counted already, by a random id' },
  refused: { whose: 'few', what: 'What the collector did not take, by day' },
  erasure: { whose: 'few', what: 'That somebody was erased, by whom and how much: nothing that they could be known by' },
  member: { whose: 'team', what: 'Accounts: email, name, a hash of the password, the second factor encrypted' },
  membership: { whose: 'team', what: 'Who is of which site, as what' },
  invitation: { whose: 'team', what: 'Who is invited, for a week' },
  session: { whose: 'team', what: 'Where somebody is signed in: a hash of the token, what the browser calls itself' },
  ticket: { whose: 'team', what: 'Links that are good once: a hash of the token' },
  sign_in_attempt: { whose: 'team', what: 'Tries to sign in, with email and network address, for a day: guessing is slowed' },
  colleague: { whose: 'team', what: 'What visitors see of somebody who answers, their hours and calendar' },
  weekly_mail: { whose: 'team', what: 'Who gets the week by mail' },
  change_log: { whose: 'team', what: 'Who of the team changed what' },
  editing: { whose: 'team', what: 'Who edits what just now' },
  tryout: { whose: 'team', what: 'Try-outs of the team: who somebody pretends to be' },
  campaign: { whose: 'site', what: 'Rules, messages and their versions' },
  campaign_connection: { whose: 'site', what: 'What of a campaign’s leads goes to which connection' },
  connection: { whose: 'site', what: 'Outside services, with their secrets encrypted' },
  kept_segment: { whose: 'site', what: 'Which segments are kept in step with which connection' },
  goal: { whose: 'site', what: 'Goals' },
  page_set: { whose: 'site', what: 'Page sets' },
  picture: { whose: 'site', what: 'Pictures of messages and people' },
  place: { whose: 'site', what: 'Places on the map' },
  purpose: { whose: 'site', what: 'Purposes' },
  release: { whose: 'site', what: 'Releases, for ever' },
  saved_answer: { whose: 'site', what: 'Saved answers' },
  segment: { whose: 'site', what: 'Segments' },
  starting_point: { whose: 'site', what: 'Starting points' },
  trash: { whose: 'site', what: 'What was deleted of these in the last thirty days' },
  site: { whose: 'site', what: 'Sites, their addresses and secrets' },
  node: { whose: 'operation', what: 'PostgreSQL servers that have whole sites' },
  migration: { whose: 'operation', what: 'Which changes of the tables were made' },
};

export const visitorTables = (): string[] => Object.keys(DATA_MAP).filter((table) => DATA_MAP[table]?.whose === 'visitors');
