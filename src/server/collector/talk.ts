import type { ServerResponse } from 'node:http';
import type { FastifyInstance, FastifyReply } from 'fastify';
import { z } from 'zod';
import type { Heard, LinePicture } from '@/core/conversations/line';
import type { Directory } from '../db/directory';
import type { Queryable } from '../db/queryable';
import { findTalkPicture, keepTalkPicture, maySendPicture } from '../db/talkPictures';
import { announceWriting, hear, lastSeqs } from '../db/threads';
import { OutOfBounds } from '../bounded/bounded';
import { MOST_BYTES, PictureRefused } from '../pictures/refused';
import { takePicture } from '../pictures/take';

/** `writing`: nothing has changed but that somebody is, by name. */
type OnChange = (writing?: string) => void;

/** Who listens to which thread, in this process. */
export interface TalkHub {
  /** Calls back whenever something in a thread may have changed, until it is ended. Undefined where too many listen already. */
  readonly listen: (siteId: number, thread: string, onChange: OnChange) => (() => void) | undefined;
  /** Something was committed in a thread; without one, something may have been missed. */
  readonly heard: (siteId?: number, thread?: string) => void;
  readonly writes: (siteId: number, thread: string, by: string) => void;
  readonly end: () => void;
  readonly size: () => number;
}

/** Whoever hears of changes at once looks all the same now and then; whoever may not looks often. */
const [LOOK_MS, LOOK_UNSURE_MS] = [5_000, 500];
const MOST_OF_ONE_THREAD = 20;
const MOST_LISTENING = 20_000;
/** Of a house or an office, with a tab each; behind a proxy that is not named to us everybody has one address. */
export const MOST_OF_ONE_ADDRESS = 300;

/** `isSure`: announcements arrive. Threads of servers that do not announce here are looked at, all of a site in one statement. */
export function createTalkHub(
  directory: Directory,
  { isSure, onFailure }: { isSure: (siteId: number) => Promise<boolean>; onFailure: (cause: unknown) => void },
): TalkHub {
  const sites = new Map<number, Map<string, { readonly listeners: Set<OnChange>; mark: string | undefined }>>();
  const looked = new Map<number, number>();
  let listening = 0;
  const call = (siteId: number, thread: string, writing?: string): void =>
    sites
      .get(siteId)
      ?.get(thread)
      ?.listeners.forEach((tell) => tell(writing));

  async function look(siteId: number): Promise<void> {
    const threads = sites.get(siteId);
    if (!threads?.size) return;
    for (const { id, mark } of await lastSeqs(directory.of(siteId), siteId, [...threads.keys()])) {
      const known = threads.get(id);
      if (!known || known.mark === mark) continue;
      known.mark = mark;
      call(siteId, id);
    }
  }

  let isLooking = false;
  const timer = setInterval(() => {
    if (isLooking || sites.size === 0) return;
    isLooking = true;
    const now = Date.now();
    void Promise.all(
      [...sites.keys()].map(async (siteId) => {
        if (now - (looked.get(siteId) ?? 0) < ((await isSure(siteId)) ? LOOK_MS : LOOK_UNSURE_MS)) return;
        looked.set(siteId, now);
        await look(siteId);
      }),
    )
      .catch(onFailure)
      .finally(() => (isLooking = false));
  }, LOOK_UNSURE_MS);
  timer.unref();

  return {
    listen: (siteId, thread, onChange) => {
      const threads = sites.get(siteId) ?? new Map<string, { listeners: Set<OnChange>; mark: string | undefined }>();
      const known = threads.get(thread) ?? { listeners: new Set<OnChange>(), mark: undefined };
      if (known.listeners.size >= MOST_OF_ONE_THREAD || listening >= MOST_LISTENING) return undefined;
      sites.set(siteId, threads);
      threads.set(thread, known);
      known.listeners.add(onChange);
      listening++;
      return () => {
        if (!known.listeners.delete(onChange)) return;
        listening--;
        if (known.listeners.size > 0) return;
        threads.delete(thread);
        if (threads.size === 0) sites.delete(siteId);
      };
    },
    heard: (siteId, thread) => {
      if (siteId !== undefined && thread !== undefined) return call(siteId, thread);
      looked.clear();
    },
    writes: (siteId, thread, by) => by !== 'visitor' && call(siteId, thread, by),
    end: () => clearInterval(timer),
    size: () => listening,
  };
}

const uuid = z.uuid();
export const talkSchema = z.object({
  thread: uuid,
  browser: uuid,
  after: z.coerce.number().int().min(0).max(1_000_000).default(0),
});

export interface Listening {
  readonly siteId: number;
  readonly thread: string;
  readonly browser: string;
  readonly after: number;
}

const HEART_MS = 20_000;
const POLL_MS = 25_000;

/** Tells a page what is said in its thread: as a stream of events for as long as it listens, or once, as soon as there is something. */
export class Talks {
  readonly #hub: TalkHub;
  readonly #directory: Directory;
  readonly #streams = new Set<() => void>();
  readonly #byAddress = new Map<string, number>();

  readonly #heartMs: number;

  /** `heartMs`: how often a stream says that it is still there. */
  constructor(directory: Directory, hub: TalkHub, { heartMs = HEART_MS }: { heartMs?: number } = {}) {
    this.#directory = directory;
    this.#hub = hub;
    this.#heartMs = heartMs;
  }

  /** Whoever was connected comes again, to whichever collector is there. */
  end(): void {
    for (const end of this.#streams) end();
    this.#hub.end();
  }

  #count(address: string, more: 1 | -1): void {
    const now = (this.#byAddress.get(address) ?? 0) + more;
    if (now > 0) this.#byAddress.set(address, now);
    else this.#byAddress.delete(address);
  }

  #hear({ siteId, thread, browser }: Listening, after: number): Promise<Heard | undefined> {
    return hear(this.#directory.of(siteId), siteId, { thread, browser, after, now: Date.now() });
  }

  /** False where too many listen, in all, to this thread or from that address. */
  stream(reply: FastifyReply, listening: Listening, address: string): boolean {
    const { raw } = reply;
    const there = this.#byAddress.get(address) ?? 0;
    if (there >= MOST_OF_ONE_ADDRESS) return false;
    let after = listening.after;
    let [isBusy, isDirty, isFirst] = [false, false, true];
    let lastState = '';
    const tell = async (): Promise<void> => {
      if (isBusy) return void (isDirty = true);
      isBusy = true;
      try {
        do {
          isDirty = false;
          const heard = await this.#hear(listening, after);
          if (!heard) break;
          const state = JSON.stringify({ ...heard, lines: [] });
          after = heard.lines.at(-1)?.seq ?? after;
          if (isFirst || heard.lines.length > 0 || state !== lastState) write(raw, `id: ${after}\ndata: ${JSON.stringify(heard)}\n\n`);
          lastState = state;
          isFirst = false;
        } while (isDirty as boolean);
      } catch (cause) {
        // The page comes again, and asks for what it has not heard.
        console.error(cause);
        end();
      } finally {
        isBusy = false;
      }
    };
    const stop = this.#hub.listen(listening.siteId, listening.thread, (writing) =>
      writing === undefined ? void tell() : write(raw, `event: writing\ndata: ${JSON.stringify(writing)}\n\n`),
    );
    if (!stop) return false;
    // A conversation may be listened to before its first line is here, but not for long: of one that is not there nothing is ever heard.
    const heart = setInterval(() => (isFirst ? end() : write(raw, ': still here\n\n')), this.#heartMs);
    const end = (): void => {
      clearInterval(heart);
      stop();
      if (this.#streams.delete(end)) this.#count(address, -1);
      raw.end();
    };
    this.#streams.add(end);
    this.#count(address, 1);
    raw.on('close', end);
    raw.on('error', end);
    const headers = Object.fromEntries(
      Object.entries(reply.getHeaders()).flatMap(([name, value]) => (value === undefined ? [] : [[name, value]])),
    );
    reply.hijack();
    raw.writeHead(200, {
      ...headers,
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-store',
      'x-accel-buffering': 'no',
    });
    raw.write('retry: 2000\n\n');
    void tell();
    return true;
  }

  /** Undefined where there is nothing to hear yet, after a while. */
  async once(listening: Listening, isGone: () => boolean): Promise<Heard | undefined> {
    let [wake, hasChanged] = [(): void => undefined, false];
    const stop = this.#hub.listen(listening.siteId, listening.thread, (writing) => {
      if (writing !== undefined) return;
      hasChanged = true;
      wake();
    });
    try {
      for (const until = Date.now() + POLL_MS; ;) {
        hasChanged = false;
        const heard = await this.#hear(listening, listening.after);
        if (heard && heard.lines.length > 0) return heard;
        const left = until - Date.now();
        if (left <= 0 || isGone() || !stop) return heard;
        if (hasChanged) continue;
        await new Promise<void>((resolve) => {
          const timer = setTimeout(resolve, left);
          wake = () => {
            clearTimeout(timer);
            resolve();
          };
        });
      }
    } finally {
      stop?.();
    }
  }
}

/** Whoever does not take what is sent for long is let go: they come again. */
const MOST_UNSENT = 256 * 1024;
function write(raw: ServerResponse, text: string): void {
  if (raw.writableLength > MOST_UNSENT) return void raw.destroy();
  if (!raw.destroyed && !raw.writableEnded) raw.write(text);
}

interface TalkRequest {
  Params: { key: string; thread: string; picture: string };
  Querystring: { browser?: string; after?: string; once?: string };
}

const MALFORMED = 'thread and browser: expected UUIDs; after: expected the number of a line';
/** Pictures that are opened at once; each may take a second and some hundred megabytes. */
const MOST_ENCODING = 2;

/** Of one address, whatever browsers it says that it is. */
const FEW_PICTURES = { rateLimit: { max: 40, timeWindow: '1 hour' } };

/** `siteOf` gives the site whose page asks, undefined where there is none of that key and address. */
export async function serveTalks(
  server: FastifyInstance,
  talks: Talks,
  {
    siteOf,
    poolOf,
    refuse,
  }: {
    siteOf: (key: string, origin: string | undefined, isAnyOrigin?: boolean) => Promise<number | undefined>;
    poolOf: (siteId: number) => Queryable;
    refuse: (reply: FastifyReply, status: number, code: string, message: string) => FastifyReply;
  },
): Promise<void> {
  server.get<TalkRequest>('/talk/:key/:thread', async (request, reply) => {
    const { params, query, headers } = request;
    const parsed = talkSchema.safeParse({ thread: params.thread, browser: query.browser, after: headers['last-event-id'] ?? query.after });
    if (!parsed.success) return refuse(reply, 400, 'talk.malformed', MALFORMED);
    const siteId = await siteOf(params.key, headers.origin);
    if (siteId === undefined) return refuse(reply, 404, 'site.unknown', 'No site has that key and that address');
    const listening = { siteId, ...parsed.data };
    if (query.once !== undefined)
      return reply.header('cache-control', 'no-store').send((await talks.once(listening, () => request.raw.destroyed)) ?? { lines: [] });
    if (!talks.stream(reply, listening, request.ip)) return refuse(reply, 503, 'talk.tooMany', 'Too many listen to this; come again');
    return reply;
  });
  server.post<TalkRequest>('/talk/:key/:thread/writing', { bodyLimit: 64 }, async ({ params, query, headers }, reply) => {
    const parsed = talkSchema.safeParse({ thread: params.thread, browser: query.browser });
    if (!parsed.success) return refuse(reply, 400, 'talk.malformed', MALFORMED);
    const siteId = await siteOf(params.key, headers.origin);
    if (siteId === undefined) return refuse(reply, 404, 'site.unknown', 'No site has that key and that address');
    await announceWriting(poolOf(siteId), siteId, { ...parsed.data, by: 'visitor' });
    return reply.code(204).send();
  });
  // Images are asked for without saying where from: whoever knows thread and browser is the visitor.
  server.get<TalkRequest>('/talk/:key/:thread/pictures/:picture', async ({ params, query }, reply) => {
    const parsed = talkSchema.safeParse({ thread: params.thread, browser: query.browser });
    const siteId = parsed.success ? await siteOf(params.key, undefined, true) : undefined;
    const { thread, browser } = parsed.data ?? {};
    const found =
      siteId !== undefined && thread && browser
        ? await findTalkPicture(poolOf(siteId), siteId, { thread, browser, id: params.picture })
        : undefined;
    if (!found) return refuse(reply, 404, 'picture.unknown', 'No picture of that id is in this conversation');
    return reply.type('image/webp').header('cache-control', 'private, max-age=31536000, immutable').send(found.bytes);
  });
  let encoding = 0;
  await server.register(async (scope) => {
    scope.removeAllContentTypeParsers();
    scope.addContentTypeParser('*', { parseAs: 'buffer', bodyLimit: MOST_BYTES }, (_request, body, done) => done(null, body));
    scope.post<TalkRequest>(
      '/talk/:key/:thread/pictures',
      { bodyLimit: MOST_BYTES, config: FEW_PICTURES },
      async ({ params, query, headers, body }, reply) => {
        const parsed = talkSchema.safeParse({ thread: params.thread, browser: query.browser });
        if (!parsed.success) return refuse(reply, 400, 'talk.malformed', MALFORMED);
        const siteId = await siteOf(params.key, headers.origin);
        if (siteId === undefined) return refuse(reply, 404, 'site.unknown', 'No site has that key and that address');
        const db = poolOf(siteId);
        const sender = await maySendPicture(db, siteId, parsed.data.browser);
        if (!sender) return refuse(reply, 404, 'visitor.unknown', 'No page view of this browser was opened');
        if (!sender.may) return refuse(reply, 429, 'picture.tooMany', 'More pictures in an hour than anybody looks at');
        if (encoding >= MOST_ENCODING) return refuse(reply, 503, 'picture.busy', 'Too many pictures at once; come again');
        encoding++;
        try {
          const { width, height, bytes } = await takePicture(Buffer.isBuffer(body) ? body : Buffer.alloc(0), {
            widths: [],
            kinds: 'common',
          });
          const id = await keepTalkPicture(db, siteId, { thread: parsed.data.thread, visitor: sender.visitor, width, height, bytes });
          return await reply.header('cache-control', 'no-store').send({ id, width, height } satisfies LinePicture);
        } catch (cause) {
          if (cause instanceof PictureRefused) return refuse(reply, 422, cause.code, cause.message);
          if (cause instanceof OutOfBounds) return refuse(reply, cause.code === 'file.busy' ? 503 : 422, cause.code, cause.message);
          throw cause;
        } finally {
          encoding--;
        }
      },
    );
  });
}
