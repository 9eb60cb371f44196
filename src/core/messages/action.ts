import { z } from 'zod';
import { unionOfKinds } from '../parsing/unionOfKinds';
import type { ActionKind } from './actionKind';
import { calendarAction } from './actions/calendar';
import { closeAction } from './actions/close';
import { endAction } from './actions/end';
import { messageAction } from './actions/message';
import { pageAction } from './actions/page';
import { phoneAction } from './actions/phone';
import { reportAction } from './actions/report';
import { scoreAction } from './actions/score';
import { tagAction } from './actions/tag';

/** Every kind of action: what a button, an answer or a quiet action does. */
export const ACTION_KINDS = {
  message: messageAction,
  page: pageAction,
  phone: phoneAction,
  calendar: calendarAction,
  report: reportAction,
  tag: tagAction,
  score: scoreAction,
  close: closeAction,
  end: endAction,
} as const;

type Kinds = typeof ACTION_KINDS;
type ActionIn<E> = E extends ActionKind<infer A> ? A : never;
export type Action = { [K in keyof Kinds]: ActionIn<Kinds[K]> }[keyof Kinds];
export type ActionOf<K extends Action['kind']> = Extract<Action, { kind: K }>;

/** Each entry stands under its own name. */
ACTION_KINDS satisfies { readonly [K in Action['kind']]: ActionKind<ActionOf<K>> };

export const actionKindOf = <A extends Action>({ kind }: A): ActionKind<A> => ACTION_KINDS[kind] as unknown as ActionKind<A>;

export const actionKinds = (): readonly ActionKind<Action>[] => Object.values(ACTION_KINDS) as unknown as readonly ActionKind<Action>[];

export const actionSchema = () => unionOfKinds<Action>(ACTION_KINDS);

export const MOST_ACTIONS = 10;
export const actionsSchema = () => z.array(actionSchema()).max(MOST_ACTIONS);

/** The messages of the flow that these actions open. */
export const openedBy = (does: readonly Action[]): string[] => does.flatMap((action) => actionKindOf(action).opens?.(action) ?? []);
