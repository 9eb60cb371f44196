import type { FactValues } from '../facts/facts';
import type { Page } from '../pages/address';

export const VISIT_GAP_MS = 30 * 60_000;
/** How far a display rule looks back where it does not say. */
export const LONGEST_LOOKBACK_DAYS = 540;

export const CHANNELS = ['paid', 'email', 'social', 'search', 'referral', 'direct'] as const;
export type Channel = (typeof CHANNELS)[number];

export const OUTCOMES = ['shown', 'clicked', 'dismissed', 'converted', 'replied'] as const;
export type Outcome = (typeof OUTCOMES)[number];
/** How a message was dismissed: by its close button, the dim behind it, the Escape key, or an answer that only closes. */
export const DISMISSALS = ['button', 'dim', 'escape', 'answer'] as const;
export type Dismissal = (typeof DISMISSALS)[number];

export const DEVICE_CATEGORIES = ['desktop', 'tablet', 'phone'] as const;
export const WEATHERS = ['clear', 'cloud', 'fog', 'rain', 'snow', 'storm'] as const;

export interface Utm {
  readonly source?: string | undefined;
  readonly medium?: string | undefined;
  readonly campaign?: string | undefined;
  readonly term?: string | undefined;
  readonly content?: string | undefined;
}

export interface Source {
  readonly channel: Channel;
  /** Host of the referring page. */
  readonly referrer?: string | undefined;
  readonly utm: Utm;
}

/** `at` UTC ms; `engaged` in seconds; `scroll` the deepest, in percent. */
export interface View extends Page {
  readonly at: number;
  readonly engaged: number;
  readonly scroll: number;
}

export interface SiteEvent {
  readonly at: number;
  readonly name: string;
  readonly props: Readonly<Record<string, unknown>>;
}

export interface Visit {
  readonly at: number;
  readonly source?: Source | undefined;
  readonly views: readonly View[];
  readonly events: readonly SiteEvent[];
}

export interface Device {
  readonly category?: (typeof DEVICE_CATEGORIES)[number] | undefined;
  readonly os?: string | undefined;
  readonly browser?: string | undefined;
}

export interface Location {
  readonly country?: string | undefined;
  readonly region?: string | undefined;
  readonly city?: string | undefined;
  readonly lat?: number | undefined;
  readonly lon?: number | undefined;
  /** Radius within which the position is right, in metres. */
  readonly accuracy?: number | undefined;
}

export interface Weather {
  readonly is?: (typeof WEATHERS)[number] | undefined;
  readonly celsius?: number | undefined;
}

/** Everything on record about one visitor, oldest visit first; the last visit is under way and its last view is the current page. */
export interface Visitor extends FactValues {
  readonly visits: readonly Visit[];
  readonly known: boolean;
  readonly traits: Readonly<Record<string, unknown>>;
  readonly tags: readonly string[];
  readonly score?: number | undefined;
  readonly responses: readonly { readonly campaign: string; readonly outcome: Outcome; readonly at: number }[];
  readonly location?: Location | undefined;
  readonly weather?: Weather | undefined;
  /** Was somebody there to chat, as was noted in the visit under way? */
  readonly staffed?: boolean | undefined;
}
