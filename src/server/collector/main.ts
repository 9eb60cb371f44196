import { openLocations } from '../location/locate';
import { createListener, createPool, nodePool } from '../db/pool';
import type { NoteAsked } from '../connections/services';
import { locateBy, weatherBy } from '../connections/services';
import { trustOf } from '../auth/proxies';
import { cannotStart } from '../http/ports';
import { createMetrics } from './metrics';
import { createCollector } from './server';
import { readPageParts } from './pageParts';

const port = Number(process.env['PORT'] ?? 4701);
// Whoever holds a table for longer is told to those who send, instead of keeping them waiting.
const LOCK_MS = 4000;
const WAIT_MS = 5000;
const pool = createPool(10, { lockMs: LOCK_MS, waitMs: WAIT_MS });
const metrics = createMetrics();
const note: NoteAsked = (service, { outcome }) => metrics.services.inc({ service, outcome });
const table = await openLocations(process.env['CRINDLE_CITY_MMDB']);
const locationService = process.env['CRINDLE_LOCATION_URL'];
const weatherService = process.env['CRINDLE_WEATHER_URL'];
/** Connections that wait to be taken: many pages come at once where a collector was away for a moment. The system may allow fewer. */
const MOST_KNOCKING = 4096;
const server = await createCollector({
  pool,
  metrics,
  listen: createListener,
  nodes: (url) => nodePool(url, { lockMs: LOCK_MS, waitMs: WAIT_MS }),
  locate: locationService ? locateBy(locationService, table, note) : table,
  ...(weatherService ? { askWeather: weatherBy(weatherService, note) } : {}),
  parts: readPageParts(new URL('../page', import.meta.url).pathname),
  perMinute: Number(process.env['CRINDLE_PER_MINUTE'] ?? 1200),
  metricsToken: process.env['CRINDLE_METRICS_TOKEN'],
  trustProxy: trustOf(process.env['CRINDLE_TRUST_PROXY']),
});

try {
  await server.listen({ port, host: process.env['HOST'] ?? '127.0.0.1', backlog: MOST_KNOCKING });
} catch (cause) {
  cannotStart('collector', port, cause);
}

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    // Requests under way are finished and answered before the pool closes.
    void server
      .close()
      .then(() => pool.end())
      .then(() => process.exit(0));
  });
}
