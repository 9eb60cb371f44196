import { execFileSync } from 'node:child_process';
import { v7 } from 'uuid';
import type { BatchAnswer } from '@/core/wire/items';
import { packSignals } from '@/core/wire/pack';
import { workerTask } from '@/server/testing/workerTask';
import { freePort } from '@/server/testing/freePort';
import { ROOT, startCollector } from '../ground';
import { sized } from '../sized';
import type { Wrongs } from './ground';
import { batchOf, inWords, makeSite, ORIGIN, send } from './ground';

const DAY_MS = 86_400_000;
const MONTHS_APART = sized(1, 60);
const OPEN_DAYS = 40;

/** Ids, instants and clocks from 1970 to 2100, and a page that stays open for forty days: everything keeps its order, and the worker and a new start go on. */
export async function runClocks(): Promise<Wrongs> {
  const { url, pool } = await makeSite();
  const collector = await startCollector(url, await freePort());
  const wrongs: string[] = [];
  const began = Date.now();
  let taken = 0;
  let refused = 0;
  const put = async (what: string, browser: string, items: readonly unknown[], now: number): Promise<void> => {
    const { status, text } = await send(collector.port, { body: batchOf(browser, items, now) });
    if (status !== 200) return void wrongs.push(`${what}: ${status} ${text.slice(0, 150)}`);
    for (const answer of (JSON.parse(text) as BatchAnswer).items) {
      if (answer.ok) taken++;
      else refused++;
      if (!answer.ok && !answer.message) wrongs.push(`${what}: refused without a reason`);
    }
  };
  for (let year = 1970; year <= 2100; year++)
    for (let month = 0; month < 12; month += MONTHS_APART) {
      const at = Date.UTC(year, month, 15, 12);
      const id = () => v7({ msecs: at });
      // The whole clock is off; the ids alone; the instants alone; the clock that is told alone.
      for (const [what, ids, instants, now] of [
        ['clock', at, at, at],
        ['ids', at, began, began],
        ['instants', began, at, began],
        ['told', began, began, at],
      ] as const) {
        const [browser, view, visit] = [v7(), v7({ msecs: ids }), v7({ msecs: ids })];
        const open = { kind: 'open', view, visit, at: instants, visitAt: instants, url: `${ORIGIN}/${what}`, referrer: '' };
        const event = { kind: 'event', id: id(), view, visit, at: instants, name: what, props: {} };
        const piece = { kind: 'piece', view, piece: 0, signals: packSignals([{ t: 1, s: 'input' }]), engaged: 1, scroll: 1, leave: 1 };
        await put(`${what} of ${new Date(at).toISOString()}`, browser, [open, piece, event], now);
      }
    }
  const [browser, view, visit] = [v7(), v7(), v7()];
  await put('a page', browser, [{ kind: 'open', view, visit, at: began, visitAt: began, url: `${ORIGIN}/long`, referrer: '' }], began);
  for (let day = 1; day <= OPEN_DAYS; day++) {
    const t = day * DAY_MS;
    await put(
      `day ${day}`,
      browser,
      [{ kind: 'piece', view, piece: day, signals: packSignals([{ t, s: 'input' }]), engaged: t, scroll: 10, leave: t }],
      began + t,
    );
  }
  collector.process.kill('SIGTERM');

  // A new start, and the worker's rounds.
  execFileSync('node', ['scripts/migrate.mjs'], { cwd: ROOT, env: { ...process.env, CRINDLE_DATABASE_URL: url }, stdio: 'ignore' });
  for (const name of ['housekeeping', 'close-visits'] as const)
    await workerTask(name, pool, (text) => wrongs.push(text)).catch((cause: unknown) => wrongs.push(`${name}: ${String(cause)}`));
  const { rows } = await pool.query<{ what: string; times: number }>(
    `select 'page views outside of the last month and the next hour' as what, count(*)::int as times from page_view
      where at < now() - interval '31 days' or at > now() + interval '1 hour'
     union all select 'events before their page view', count(*)::int from event join page_view on page_view.id = view_id where event.at < page_view.at
     union all select 'events outside of the last month and the next hour', count(*)::int from event where at < now() - interval '31 days' or at > now() + interval '1 hour'
     union all select 'visits that end before they begin', count(*)::int from visit where last_at < started_at`,
  );
  for (const { what, times } of rows) if (times > 0) wrongs.push(`${times} ${what}`);
  await pool.end();
  console.log(
    `clocks: ${inWords(taken)} items of clocks from 1970 to 2100 taken and ${inWords(refused)} refused with a reason, and a page open for ${OPEN_DAYS} days: ` +
      (wrongs.length ? `${wrongs.length} WRONG` : 'all in their order; the next start and the worker go on'),
  );
  return wrongs;
}
