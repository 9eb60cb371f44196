import { unionOfKinds } from '../parsing/unionOfKinds';
import type { MomentKind } from './kind';
import { clickKind } from './kinds/click';
import { clicksKind } from './kinds/clicks';
import { delayKind } from './kinds/delay';
import { eventKind } from './kinds/event';
import { exitKind } from './kinds/exit';
import { idleKind } from './kinds/idle';
import { openKind } from './kinds/open';
import { reachKind } from './kinds/reach';
import { scrollKind } from './kinds/scroll';
import { scrollStartKind } from './kinds/scrollStart';
import { visibleKind } from './kinds/visible';
import type { Timeline } from './timeline';

/** Every kind of moment. Words, lint, editors and what typing offers come from here; how they are judged stands in `runtime.ts`. */
export const MOMENT_KINDS = {
  open: openKind,
  delay: delayKind,
  scroll: scrollKind,
  scrollStart: scrollStartKind,
  reach: reachKind,
  visible: visibleKind,
  click: clickKind,
  clicks: clicksKind,
  event: eventKind,
  idle: idleKind,
  exit: exitKind,
} as const;

type Kinds = typeof MOMENT_KINDS;
type MomentOf<E> = E extends MomentKind<infer C> ? C : never;
export type Moment = { [K in keyof Kinds]: MomentOf<Kinds[K]> }[keyof Kinds];
export type MomentKindName = keyof Kinds;

/** Each entry stands under its own name. */
MOMENT_KINDS satisfies { readonly [K in MomentKindName]: MomentKind<Extract<Moment, { kind: K }>> };

export const momentKindOf = <C extends Moment>({ kind }: C): MomentKind<C> => MOMENT_KINDS[kind] as unknown as MomentKind<C>;

export const momentKinds = (): readonly MomentKind<Moment>[] => Object.values(MOMENT_KINDS) as unknown as readonly MomentKind<Moment>[];

export const momentSchema = () => unionOfKinds<Moment>(MOMENT_KINDS);

export const momentWords = (moment: Moment): string => momentKindOf(moment).words(moment);

/** What was found where a moment asked, at `t` ms since the page opened. */
export const momentFound = (moment: Moment, line: Timeline, t: number): string => momentKindOf(moment).found(moment, line, t);
