import type { ConnectionBody, ConnectionKind, Told } from '@/core/connections/kinds';
import { locationKind, weatherKind } from './asked';
import { audienceKind } from './audience';
import { hookKind } from './hook';
import type { Exchanged, Given, Kind, LeadToSend, Member, Sent } from './kind';
import { neverSent } from './kind';
import { listKind } from './list';
import { mailKind } from './mail';

const KINDS: { readonly [K in ConnectionKind]: Kind<K> } = {
  hook: hookKind,
  list: listKind,
  audience: audienceKind,
  mail: mailKind,
  weather: weatherKind,
  location: locationKind,
};

/** The same kind, of whichever kind the settings are. */
const kindOf = ({ kind }: ConnectionBody): Kind<never> => KINDS[kind];

/** What goes to a connection. */
export type Outgoing =
  | { readonly what: 'lead'; readonly lead: LeadToSend }
  | { readonly what: 'joined' | 'left'; readonly member: Member }
  | { readonly what: 'erased'; readonly email: string }
  | { readonly what: Told; readonly data: unknown };

type Rest = Omit<Given<never>, 'settings'>;

export const checkConnection = (to: ConnectionBody, rest: Rest): Promise<Exchanged> =>
  kindOf(to).check({ settings: to.settings as never, ...rest });

const NOT_TAKEN = neverSent('a connection of this kind does not take it');

/** Sends; what a kind does not take is never sent. */
export async function sendTo(to: ConnectionBody, out: Outgoing, rest: Rest & Pick<Sent<never>, 'delivery'>): Promise<Exchanged> {
  const kind = kindOf(to);
  const given = { settings: to.settings as never, ...rest };
  switch (out.what) {
    case 'lead':
      return (await kind.lead?.(out.lead, given)) ?? NOT_TAKEN;
    case 'joined':
      return (await kind.joined?.(out.member, given)) ?? NOT_TAKEN;
    case 'left':
      return (await kind.left?.(out.member, given)) ?? NOT_TAKEN;
    case 'erased':
      return (await kind.erased?.(out.email, given)) ?? NOT_TAKEN;
    case 'conversion':
    case 'conversation':
    case 'release':
      return (await kind.told?.(out.what, out.data, given)) ?? NOT_TAKEN;
  }
}
