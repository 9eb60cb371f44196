import type { ComponentChild } from 'preact';
import type { Judged, Pretend } from '@/core/tryout/asked';

export interface Pretended {
  readonly pretend: Pretend;
  /** How far the clock is ahead, in ms. */
  readonly ahead: number;
  readonly found: Judged['found'] | undefined;
  readonly nameOf: (campaign: string) => string;
}

type Changes = { readonly [K in keyof Pretend]?: Pretend[K] | undefined };
/** Put over what is pretended by then. */
export type Change = (change: Changes | ((pretend: Pretend) => Changes)) => void;

export interface Editing extends Pretended {
  readonly change: Change;
  readonly setClock: (ahead: number) => void;
  readonly done: () => void;
}

/** A part of the sentence of whom the visitor is taken to be, and what it is changed by. */
export interface Phrase {
  readonly key: string;
  readonly before: string;
  /** Said only where something of it is pretended, or where more is asked for. */
  readonly isSet?: (pretend: Pretend) => boolean;
  readonly words: (pretended: Pretended) => string;
  readonly edit: (editing: Editing) => ComponentChild;
}
