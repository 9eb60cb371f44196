import { collectorUrl } from './server/pictures/url';
import { NextResponse } from 'next/server';
import type { NextRequest } from 'next/server';
import { PATH_HEADER } from './server/auth/path';
import { START_HEADER, startHeaders } from './server/http/ownStart';

/** A strict content security policy: only scripts with the request's nonce, and what they load, may run. */
export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID());
  const isDev = process.env.NODE_ENV === 'development';
  const policy = [
    `default-src 'self'`,
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${isDev ? " 'unsafe-eval'" : ''}`,
    `style-src 'self' 'unsafe-inline'`,
    `img-src 'self' data: blob: ${URL.canParse(collectorUrl()) ? new URL(collectorUrl()).origin : ''}`,
    `worker-src 'self' blob:`,
    `connect-src 'self'${isDev ? ' ws:' : ''}`,
    `frame-ancestors 'none'`,
    `object-src 'none'`,
    `base-uri 'self'`,
    `form-action 'self'`,
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set(PATH_HEADER, request.nextUrl.pathname);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  response.headers.set('cross-origin-resource-policy', 'same-origin');
  response.headers.set('permissions-policy', 'camera=(), microphone=(), geolocation=(), payment=(), usb=()');
  response.headers.set('referrer-policy', 'same-origin');
  response.headers.set('x-content-type-options', 'nosniff');
  for (const [name, value] of Object.entries(startHeaders(request.headers.get(START_HEADER)))) response.headers.set(name, value);
  return response;
}

// Whatever passes here is held in memory first, and cut at 10 MB: bodies of the API do not (its headers are in next.config.ts).
export const config = { matcher: [{ source: '/((?!api/|_next/static|_next/image|favicon.ico).*)' }] };
