import type { IncomingMessage, Server, ServerResponse } from 'node:http';
import { createServer } from 'node:http';
import { isBearer } from '../http/bearer';
import { START_HEADER, startHeaders } from '../http/ownStart';
import { frameOf } from './frames';
import type { Task } from './task';
import type { Threads } from './threads';

/** Rules and segments are small; nothing else is sent here. */
const MOST_BYTES = 4_000_000;
const ALIVE_MS = 10_000;

/** Takes tasks by `POST /ask` as JSON and answers in frames, for as long as whoever asked stays. `token`: what they have to know. */
export function createAnalysisServer(threads: Pick<Threads, 'ask'>, { token }: { token: string | undefined }): Server {
  return createServer((request, response) => {
    handle(request, response).catch((cause: unknown) => {
      console.error(cause);
      if (!response.headersSent) refuse(response, 500, 'The analysis has failed; its log says why');
      else response.destroy();
    });
  });

  async function handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (request.url === '/health') {
      response.writeHead(200, { 'content-type': 'application/json', ...startHeaders(request.headers[START_HEADER]) }).end('{"ok":true}');
      return;
    }
    if (request.method !== 'POST' || request.url !== '/ask') return refuse(response, 404, 'There is POST /ask, and GET /health');
    if (!isBearer(request, token)) return refuse(response, 403, 'This analysis answers to its studio');
    // A page in somebody's browser could send anything else without asking first.
    if (request.headers['content-type'] !== 'application/json') return refuse(response, 415, 'content-type: expected application/json');
    const body = await readBody(request);
    if (body === undefined) return refuse(response, 413, `body: expected at most ${MOST_BYTES} bytes`);
    const task = taskIn(body);
    if (!task) return refuse(response, 400, 'body: expected a task with its kind and its site');
    answer(task, response);
  }

  function answer(task: Task, response: ServerResponse): void {
    response.writeHead(200, { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' });
    response.flushHeaders();
    const heart = setInterval(() => response.write(frameOf({ kind: 'alive' })), ALIVE_MS);
    const cancel = threads.ask(task, {
      onPart: (value, isLast) => {
        const frame = frameOf({ kind: isLast ? 'last' : 'part', value });
        if (isLast) response.end(frame);
        else response.write(frame);
      },
      onFailure: ({ message }) => response.end(frameOf({ kind: 'failed', message })),
    });
    response.once('close', () => {
      clearInterval(heart);
      cancel();
    });
  }
}

function refuse(response: ServerResponse, status: number, message: string): void {
  response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify({ error: { message } }));
}

async function readBody(request: IncomingMessage): Promise<string | undefined> {
  const parts: Buffer[] = [];
  let length = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    length += part.length;
    if (length > MOST_BYTES) return undefined;
    parts.push(part);
  }
  return Buffer.concat(parts).toString('utf8');
}

/** The studio has checked what is in it; this tells it from what is none. */
function taskIn(body: string): Task | undefined {
  try {
    const task = JSON.parse(body) as Partial<Task> | null;
    return typeof task?.kind === 'string' && Number.isInteger(task.site) ? (task as Task) : undefined;
  } catch (cause) {
    if (cause instanceof SyntaxError) return undefined;
    throw cause;
  }
}
