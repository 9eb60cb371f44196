import { randomUUID } from 'node:crypto';
import type pg from 'pg';

/** Where changes of sites and releases are announced (see migration 0021). */
const CHANNEL = 'crindle';
/** How often it is made sure that announcements arrive. */
const SURE_MS = 30_000;
/** From here on after the last sign nothing is taken for granted. */
const DOUBT_MS = 45_000;
const FIRST_PAUSE_MS = 200;
const LONGEST_PAUSE_MS = 15_000;

export interface Announcements {
  /** Whether whatever is announced is sure to be heard here: a connection may be open and silent all the same, behind a pooler say. */
  readonly isSure: () => boolean;
  readonly end: () => Promise<void>;
}

/**
 * Listens on a connection of its own, and opens it again for as long as it is asked to. `heard` gets the key of a site of which something
 * was announced; `undefined` where something may have been missed. Whether it hears is tried by saying something through `pool`.
 */
export function listenForAnnouncements(
  pool: pg.Pool,
  {
    connect,
    heard,
    talked = () => undefined,
    writes = () => undefined,
    now = Date.now,
  }: {
    connect: () => pg.Client;
    heard: (site: string | undefined) => void;
    /** Of which site's which thread something was committed; `undefined` where something may have been missed. */
    talked?: (siteId?: number, thread?: string) => void;
    /** Who is writing in a thread: `visitor`, or somebody of the team by name. */
    writes?: (siteId: number, thread: string, by: string) => void;
    now?: () => number;
  },
): Announcements {
  const own = randomUUID();
  let [sureAt, pause, isOver] = [-Infinity, FIRST_PAUSE_MS, false];
  let client: pg.Client | undefined;
  let timer: NodeJS.Timeout | undefined;

  const later = (ms: number, work: () => void): void => {
    clearTimeout(timer);
    if (!isOver) timer = setTimeout(work, ms).unref();
  };
  const makeSure = (): void => {
    void pool.query(`select pg_notify($1, $2)`, [CHANNEL, `sure ${own}`]).catch(() => undefined);
    later(SURE_MS, makeSure);
  };
  const lost = (of: pg.Client): void => {
    if (client !== of) return;
    client = undefined;
    sureAt = -Infinity;
    of.end().catch(() => undefined);
    later(pause, open);
    pause = Math.min(pause * 2, LONGEST_PAUSE_MS);
  };
  function open(): void {
    const opened = connect();
    client = opened;
    opened.on('error', () => lost(opened));
    opened.on('end', () => lost(opened));
    opened.on('notification', ({ payload = '' }) => {
      const [what, of, thread, ...name] = payload.split(' ');
      if (what === 'thread') talked(Number(of), thread);
      if (what === 'writing' && thread) writes(Number(of), thread, name.join(' '));
      if (what === 'site') heard(of === '' ? undefined : of);
      if (what !== 'sure' || of !== own) return;
      if (sureAt === -Infinity) {
        heard(undefined);
        talked();
      }
      sureAt = now();
      pause = FIRST_PAUSE_MS;
    });
    opened
      .connect()
      .then(() => opened.query(`listen ${CHANNEL}`))
      .then(makeSure, () => lost(opened));
  }
  open();
  return {
    isSure: () => now() - sureAt < DOUBT_MS,
    end: async () => {
      isOver = true;
      clearTimeout(timer);
      const last = client;
      client = undefined;
      await last?.end().catch(() => undefined);
    },
  };
}
