import type { ConnectionKind, SettingsOf } from '@/core/connections/kinds';
import type { Verdict } from '@/core/connections/retry';

/** A lead as it goes out. */
export interface LeadToSend {
  readonly id: string;
  /** ISO. */
  readonly at: string;
  readonly email: string | null;
  readonly campaign: { readonly id: string; readonly name: string | null };
  readonly url: string;
  readonly fields: Readonly<Record<string, unknown>>;
  readonly consent: readonly { readonly name: string; readonly words: string }[];
  readonly tags: readonly string[];
}

export interface Exchanged {
  readonly verdict: Verdict;
  /** HTTP status, where there was one. */
  readonly status: number | null;
  /** What came of it, in words for the marketer. */
  readonly note: string;
}

export interface Given<K extends ConnectionKind> {
  readonly settings: SettingsOf<K>;
  readonly secret: string | undefined;
  /** UTC ms. */
  readonly now: number;
}

/** A kind of connection: how it is asked whether it is there, and how a lead goes to it. Neither throws for what the service does. */
export interface Kind<K extends ConnectionKind> {
  readonly check: (given: Given<K>) => Promise<Exchanged>;
  /** `delivery`: the same again is the same at the other side. */
  readonly send: (lead: LeadToSend, given: Given<K> & { readonly delivery: string }) => Promise<Exchanged>;
}
