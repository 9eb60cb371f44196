// Lines of a conversation, as a visitor's page hears of them.

/** A line's text is no longer than this, in letters. */
export const LONGEST_LINE = 4000;

export type LineBy = 'script' | 'visitor' | 'team';

/** Who of the team wrote, as visitors see them. */
export interface Speaker {
  readonly name: string;
  readonly title: string;
  readonly introduction: string;
  readonly meeting: string;
  /** One of the site's pictures, by its hash. */
  readonly picture?: string;
}

export interface LinePicture {
  readonly id: string;
  readonly width: number;
  readonly height: number;
}

export interface HeardLine {
  /** The server's order within the thread, from 1 on. */
  readonly seq: number;
  /** Made where it was written. */
  readonly id: string;
  /** UTC ms. */
  readonly at: number;
  readonly by: LineBy;
  readonly text: string;
  readonly from?: Speaker;
  readonly picture?: LinePicture;
}

/** What a page hears of a thread: lines after those that it knows, and how it stands. */
export interface Heard {
  readonly lines: readonly HeardLine[];
  readonly state: 'open' | 'closed';
  /** Somebody is here to answer now. */
  readonly isStaffed: boolean;
  /** Whom it is with. */
  readonly with: Speaker | null;
  /** The last line that the team has seen. */
  readonly seen: number;
}
