import type { ConnectionBody } from '@/core/connections/kinds';
import { hookKind } from './hook';
import type { Exchanged, Kind, LeadToSend } from './kind';
import { listKind } from './list';
import { mailKind } from './mail';

const KINDS: { readonly [K in ConnectionBody['kind']]: Kind<K> } = { hook: hookKind, list: listKind, mail: mailKind };

interface Rest {
  readonly secret: string | undefined;
  /** UTC ms. */
  readonly now: number;
}

export const checkConnection = ({ kind, settings }: ConnectionBody, rest: Rest): Promise<Exchanged> =>
  (KINDS[kind] as Kind<never>).check({ settings: settings as never, ...rest });

export const sendLead = (
  lead: LeadToSend,
  { kind, settings }: ConnectionBody,
  rest: Rest & { readonly delivery: string },
): Promise<Exchanged> => (KINDS[kind] as Kind<never>).send(lead, { settings: settings as never, ...rest });
