import type { SentItem } from '@/core/wire/items';
import type { openOutbox as openPlainOutbox, Outbox } from '../outbox';
import { askSoon, answerTo } from './asking';
import { saveSession, session } from './session';

/** In the place of `../outbox`: what would be sent is noted in the try-out, and goes nowhere. */
export function openOutbox({ onAnswer }: Parameters<typeof openPlainOutbox>[0]): Outbox {
  answerTo(onAnswer);
  return {
    put: (item) => {
      note(item);
      saveSession();
    },
    flush: askSoon,
    ask: askSoon,
    leave: saveSession,
    stop: () => undefined,
  };
}

const MOST = 450;
let visit = '';

function note(item: SentItem): void {
  const { tried } = session();
  const current = tried.visits.at(-1);
  switch (item.kind) {
    case 'open': {
      const { at, url, title, labels, referrer } = item;
      const view = { url, at, engaged: 0, scroll: 0, ...(title === undefined ? {} : { title }), ...(labels ? { labels } : {}) };
      if (current && (visit === item.visit || current.at === item.visitAt)) current.views.push(view);
      else tried.visits.push({ at: item.visitAt, referrer, views: [view], events: [] });
      visit = item.visit;
      for (const { views } of tried.visits) views.splice(0, views.length - MOST);
      tried.visits.splice(0, tried.visits.length - 90);
      return;
    }
    case 'piece': {
      const view = current?.views.at(-1);
      if (view)
        Object.assign(view, {
          engaged: item.engaged / 1000,
          scroll: item.scroll,
          ...(item.title === undefined ? {} : { title: item.title }),
          ...(item.labels ? { labels: item.labels } : {}),
        });
      return;
    }
    case 'event':
      current?.events.push({ at: item.at, name: item.name, props: item.props });
      current?.events.splice(0, current.events.length - MOST);
      return;
    case 'person':
      if (item.customerId || item.email) tried.known = true;
      Object.assign(tried.traits, item.traits);
      return;
    case 'mark':
      if (item.tag && !tried.tags.includes(item.tag)) tried.tags.push(item.tag);
      tried.score += item.score ?? 0;
      return;
    case 'showing':
      if (item.shown) tried.responses.push({ campaign: item.campaign, outcome: 'shown', at: item.at });
      showings.set(item.id, item.campaign);
      return;
    case 'outcome':
      tried.responses.push({ campaign: showings.get(item.showing) ?? '?', outcome: item.outcome, at: item.at });
      return;
    case 'step':
    case 'sight':
    case 'line':
    case 'read':
    case 'copy':
    case 'denied':
      return;
    case 'form':
      if (item.email) tried.known = true;
      tried.responses.push({ campaign: item.campaign, outcome: 'converted', at: item.at });
      return;
    case 'fault':
      faults.push(`${item.entry}: ${item.message}`);
      return;
  }
}

const showings = new Map<string, string>();
/** What went wrong with the page script here; in a page of the site's it would be told to the collector. */
export const faults: string[] = [];
