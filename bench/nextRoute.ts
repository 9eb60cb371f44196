// The collector's work behind a Next route: what `bench collect` compares the collector's own server with.
import { collect, loadKnown, RequestRejected } from '@/server/collector/collect';
import { createMetrics } from '@/server/collector/metrics';
import { cached } from '@/server/collector/cached';
import { createPace } from '@/server/collector/pace';
import { createWriter } from '@/server/collector/writer';
import { Directory } from '@/server/db/directory';
import { createPool, nodePool } from '@/server/db/pool';

const pool = createPool();
const metrics = createMetrics();
const directory = new Directory(pool, (url) => nodePool(url));
const writer = createWriter(directory, metrics);
const pace = createPace();
const known = cached({ ms: () => 1000, load: (key: string) => loadKnown(directory, key) });
const nowhere = () => Promise.resolve(undefined);
const servicesOf = () => Promise.resolve({ locate: nowhere, askWeather: nowhere });

export async function POST(request: Request): Promise<Response> {
  const { headers } = request;
  const sent = {
    body: await request.text(),
    ip: '127.0.0.1',
    userAgent: headers.get('user-agent') ?? '',
    origin: headers.get('origin') ?? undefined,
    doNotTrack: headers.get('dnt') ?? undefined,
    globalPrivacyControl: headers.get('sec-gpc') ?? undefined,
  };
  try {
    return Response.json(await collect(sent, { directory, known, servicesOf, writer, metrics, clock: Date.now, pace }));
  } catch (cause) {
    if (cause instanceof RequestRejected)
      return Response.json({ error: { code: cause.code, message: cause.message } }, { status: cause.status });
    throw cause;
  }
}

export function GET(): Response {
  return Response.json({ ok: true });
}
