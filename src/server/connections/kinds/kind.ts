import type { ConnectionKind, SettingsOf, Told } from '@/core/connections/kinds';
import type { Verdict } from '@/core/connections/retry';

/** A lead as it goes out, after its campaign's mapping. */
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

/** Who joins or leaves a segment. */
export interface Member {
  /** In lower case. */
  readonly email: string;
  readonly segment: { readonly id: string; readonly name: string };
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
/** `delivery`: the same again is the same at the other side. */
export type Sent<K extends ConnectionKind> = Given<K> & { readonly delivery: string };

/** A kind of connection: how it is asked whether it is there, and how what it takes goes to it. None throws for what the service does. */
export interface Kind<K extends ConnectionKind> {
  readonly check: (given: Given<K>) => Promise<Exchanged>;
  readonly lead?: (lead: LeadToSend, given: Sent<K>) => Promise<Exchanged>;
  readonly joined?: (member: Member, given: Sent<K>) => Promise<Exchanged>;
  readonly left?: (member: Member, given: Sent<K>) => Promise<Exchanged>;
  /** A person is erased here, or took their consent back. */
  readonly erased?: (email: string, given: Sent<K>) => Promise<Exchanged>;
  readonly told?: (what: Told, data: unknown, given: Sent<K>) => Promise<Exchanged>;
}

/** Not sent, and never will be, for a reason of ours. */
export const neverSent = (reason: string): Exchanged => ({ verdict: { is: 'never', reason }, status: null, note: reason });
