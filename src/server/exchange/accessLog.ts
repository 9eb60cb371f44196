import { isbot } from 'isbot';

/** One request of an access log in Combined Log Format. */
export interface LoggedRequest {
  readonly address: string;
  /** UTC ms. */
  readonly at: number;
  readonly method: string;
  /** Path and query, as requested. */
  readonly target: string;
  readonly status: number;
  readonly referrer: string;
  readonly agent: string;
}

const QUOTED = String.raw`"((?:[^"\\]|\\.)*)"`;
const LINE = new RegExp(String.raw`^(\S+) \S+ (?:"[^"]*"|\S+) \[([^\]]+)\] ${QUOTED} (\d{3}) (?:\d+|-)(?: ${QUOTED} ${QUOTED})?\s*$`);
const TIME = /^(\d{2})\/([A-Z][a-z]{2})\/(\d{4}):(\d{2}):(\d{2}):(\d{2}) ([+-])(\d{2})(\d{2})$/;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** The request in a line, or what is wrong with the line. */
export function parseLogLine(line: string): LoggedRequest | { readonly wrong: string } {
  const [, address, time, request, status, referrer, agent] = LINE.exec(line) ?? [];
  if (address === undefined || time === undefined || request === undefined)
    return { wrong: `met ${short(line)}, expected the Combined Log Format` };
  const at = parseTime(time);
  if (at === undefined) return { wrong: `time: met ${short(time)}, expected such as 25/Nov/2026:10:00:00 +0100` };
  const [method, target] = request.split(' ');
  if (!method || !target || !/^[A-Z]+$/.test(method))
    return { wrong: `request: met ${short(request)}, expected such as GET /huts HTTP/1.1` };
  return { address, at, method, target: unescaped(target), status: Number(status), referrer: plain(referrer), agent: plain(agent) };
}

function parseTime(text: string): number | undefined {
  const [, day, month, year, hour, minute, second, sign, zoneHours, zoneMinutes] = TIME.exec(text) ?? [];
  const index = MONTHS.indexOf(month ?? '');
  if (index < 0) return undefined;
  const local = Date.UTC(Number(year), index, Number(day), Number(hour), Number(minute), Number(second));
  // 31 June would silently be 1 July.
  if (new Date(local).getUTCDate() !== Number(day) || Number(hour) > 23) return undefined;
  return local - (sign === '-' ? -1 : 1) * (Number(zoneHours) * 60 + Number(zoneMinutes)) * 60_000;
}

const short = (text: string): string => JSON.stringify(text.length > 80 ? `${text.slice(0, 80)}…` : text);
const unescaped = (text: string): string => text.replace(/\\(["\\])/g, '$1');
/** A dash stands for nothing. */
const plain = (text: string | undefined): string => (text === undefined || text === '-' ? '' : unescaped(text));

const ASSET =
  /\.(?:css|m?js|map|json|xml|txt|ico|png|jpe?g|gif|webp|avif|svg|bmp|woff2?|ttf|otf|eot|mp[34]|webm|ogg|pdf|zip|gz|wasm|rss|atom)$/i;

/** Why a request is no page view of a person; undefined where it is one. */
export function leftOutAs({ method, status, target, agent }: LoggedRequest): 'robot' | 'asset' | 'other' | undefined {
  if (agent === '' || isbot(agent)) return 'robot';
  if (method !== 'GET' || !(status === 200 || status === 304) || !target.startsWith('/')) return 'other';
  const path = target.split(/[?#]/)[0] ?? '';
  return ASSET.test(path) || path.startsWith('/_next/') || path.startsWith('/.well-known/') ? 'asset' : undefined;
}
