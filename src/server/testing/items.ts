import type { Item } from '@/core/wire/items';
import { v7 } from 'uuid';

export const newUuid = (at = Date.now()): string => v7({ msecs: at });

type Kind = Item['kind'];
type ItemOf<K extends Kind> = Extract<Item, { kind: K }>;

/** A page open that the collector takes, with overrides. */
export function openItem(overrides: Partial<ItemOf<'open'>> = {}): ItemOf<'open'> {
  const at = overrides.at ?? Date.now();
  return {
    kind: 'open',
    view: newUuid(at),
    visit: newUuid(at),
    at,
    visitAt: at,
    url: 'http://site.example/huts/upper-moss',
    title: 'Upper Moss',
    referrer: '',
    ...overrides,
  };
}

export function pieceItem(open: ItemOf<'open'>, overrides: Partial<ItemOf<'piece'>> = {}): ItemOf<'piece'> {
  return {
    kind: 'piece',
    view: open.view,
    piece: 0,
    signals: [{ t: 100, s: 'input' }],
    engaged: 5000,
    scroll: 40,
    leave: 6000,
    ...overrides,
  };
}

export function showingItem(open: ItemOf<'open'>, overrides: Partial<ItemOf<'showing'>> = {}): ItemOf<'showing'> {
  return {
    kind: 'showing',
    view: open.view,
    visit: open.visit,
    id: newUuid(),
    campaign: 'camp_1',
    release: 1,
    at: open.at + 3000,
    shown: true,
    ...overrides,
  };
}
