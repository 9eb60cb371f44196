'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { commaList } from '@/core/parsing/commaList';
import type { VisitorFacts } from '@/server/visitors/facts';
import type { Given } from '../parts/net/call';
import { addressOf, call } from '../parts/net/call';
import { OneOf } from '../messages/Phrase';
import { RibbonList } from '../ribbon/RibbonList';
import { Composer } from './Composer';
import type { FullThread, Listed, ShownLine } from './useConversations';
import { useThread } from './useConversations';
import { nameOf } from './words';

const clock = (at: string): string => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
const day = (at: string): string => new Date(at).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });
const pathOf = (url: string): string => (URL.canParse(url) ? new URL(url).pathname : url);

/** One exchange, written like a script: who they are, what they did, what was said, and what to answer. */
export function ThreadPane({
  id,
  site,
  sections,
  mayAnswer,
  isWriting,
  colleagues,
  onChoose,
}: {
  id: string;
  site: string;
  sections: readonly string[];
  mayAnswer: boolean;
  isWriting: boolean;
  colleagues: Listed['colleagues'];
  onChoose: (id: string) => void;
}) {
  const known = useQueryClient();
  const { data: thread, error } = useThread(id);
  const visit = thread?.visit ?? null;
  const { data: visits = [] } = useQuery({
    queryKey: ['visits of thread', visit],
    enabled: visit !== null,
    refetchInterval: 15_000,
    queryFn: async () => {
      const result = await call('POST /api/visits/some', { body: { visits: visit === null ? [] : [visit] } });
      return result.ok ? result.value : [];
    },
  });
  const { data: who } = useQuery({
    queryKey: ['who', id],
    staleTime: 60_000,
    queryFn: async () => {
      const result = await call('GET /api/conversations/{id}/who', { params: { id } });
      return result.ok ? result.value.facts : null;
    },
  });
  if (error)
    return (
      <p role="alert" className="sheet p-5 text-danger">
        {error.message}
      </p>
    );
  if (!thread) return <p className="sheet p-5 text-soft">Reading it …</p>;
  const act = async (body: Given<'POST /api/conversations/{id}'>['body']): Promise<boolean> => {
    const result = await call('POST /api/conversations/{id}', { params: { id }, body });
    if (!result.ok) toast.error(result.message);
    await Promise.all([known.invalidateQueries({ queryKey: ['thread', id] }), known.invalidateQueries({ queryKey: ['threads'] })]);
    return result.ok;
  };
  return (
    <article className="sheet grid min-w-0 content-start" aria-label={`Conversation with ${nameOf(thread)}`}>
      <div className="grid gap-3 border-b border-line p-4">
        <p className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
          <Link className="text-lg font-bold hover:underline" href={`/visitors/${thread.visitor}`}>
            {nameOf(thread)}
          </Link>
          <span className="text-soft">{thread.now ? `on ${pathOf(thread.now.url)} now` : 'has left the site'}</span>
          {mayAnswer && (
            <span className="ms-auto flex flex-wrap items-baseline gap-3">
              <span className="text-soft">
                with{' '}
                <OneOf
                  label="Whom it is with"
                  value={String(thread.member ?? '')}
                  options={[
                    ...(thread.member === null ? [['', 'nobody yet'] as const] : []),
                    ...colleagues.map(({ member, name, isHere }) => [String(member), `${name}${isHere ? '' : ' (away)'}`] as const),
                  ]}
                  onChange={(member) => member && void act({ does: 'give', member: Number(member) })}
                />
              </span>
              <button className="act-quiet" onClick={() => void act({ does: thread.state === 'open' ? 'close' : 'open' })}>
                {thread.state === 'open' ? 'Close' : 'Open again'}
              </button>
            </span>
          )}
        </p>
        {visits.length > 0 && <RibbonList visits={visits} sections={sections} />}
        {who && <Who facts={who} />}
        {mayAnswer && <Tags key={thread.tags.join()} tags={thread.tags} onSave={(tags) => void act({ does: 'tag', tags })} />}
      </div>
      <Script thread={thread} site={site} />
      <p role="status" className="min-h-6 px-4 text-soft">
        {isWriting && `${nameOf(thread)} is writing …`}
      </p>
      {thread.earlier.length > 0 && (
        <p className="border-t border-line px-4 py-2 text-soft">
          Earlier:{' '}
          {thread.earlier.map((one, nth) => (
            <span key={one.id}>
              {nth > 0 && ', '}
              <button className="underline decoration-line underline-offset-4 hover:text-ink" onClick={() => onChoose(one.id)}>
                {day(one.at)}
              </button>
              {one.isClaimed && ' (another browser that says the same email)'}
            </span>
          ))}
        </p>
      )}
      {mayAnswer && <Composer key={id} thread={id} onSend={act} />}
    </article>
  );
}

function Who({ facts: { firstAt, visits, segments, tags, location, traits } }: { facts: VisitorFacts }) {
  const since = firstAt === undefined ? undefined : new Date(firstAt).toLocaleDateString('en-GB', { month: 'long', year: 'numeric' });
  const parts = [
    since && `knows us since ${since}`,
    visits === 1 ? 'first visit' : `${visits} visits`,
    location?.city && `from ${location.city}`,
    ...Object.entries(traits)
      .slice(0, 4)
      .map(([name, value]) => `${name} ${String(value)}`),
    ...tags.slice(0, 4).map((tag) => `tag “${tag}”`),
  ].filter((part): part is string => Boolean(part));
  const text = parts.join(', ');
  return (
    <p className="font-display text-base">
      {text.charAt(0).toUpperCase() + text.slice(1)}
      {segments.length > 0 && (
        <>
          , in{' '}
          {segments.map(({ id, name }, nth) => (
            <span key={id}>
              {nth > 0 && ', '}
              <Link className="border-b-2 border-people font-semibold text-people" href={`/segments/${id}`}>
                {name}
              </Link>
            </span>
          ))}
        </>
      )}
      .
    </p>
  );
}

function Tags({ tags, onSave }: { tags: readonly string[]; onSave: (tags: string[]) => void }) {
  const [text, setText] = useState(tags.join(', '));
  const save = (): void => {
    const next = commaList(text);
    if (next.join() !== tags.join()) onSave(next);
  };
  return (
    <label className="flex items-center gap-2 text-soft">
      Tags
      <input
        className="field min-w-0 flex-1"
        placeholder="with commas"
        maxLength={1000}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onBlur={save}
        onKeyDown={({ key }) => key === 'Enter' && save()}
      />
    </label>
  );
}

function Script({ thread, site }: { thread: FullThread; site: string }) {
  const log = useRef<HTMLDivElement>(null);
  const last = thread.lines.at(-1)?.seq;
  useEffect(() => {
    if (log.current) log.current.scrollTop = log.current.scrollHeight;
  }, [last]);
  const seenHere = thread.lines.findLast(({ by, seq }) => by === 'team' && seq <= thread.visitorSeen)?.seq;
  return (
    <div ref={log} tabIndex={0} role="log" aria-label="What was said" className="max-h-[38vh] min-h-32 overflow-y-auto p-4">
      <ol className="grid content-start gap-1">
        {thread.campaign && (
          <li className="text-soft">
            “{thread.campaign}” began this on {day(thread.begunAt)}
          </li>
        )}
        {thread.lines.map((line, nth) => (
          <Line
            key={line.seq}
            line={line}
            thread={thread.id}
            site={site}
            visitor={nameOf(thread)}
            isNewDay={day(line.at) !== day(thread.lines[nth - 1]?.at ?? thread.begunAt)}
            isLastSeen={line.seq === seenHere}
          />
        ))}
      </ol>
    </div>
  );
}

function Line({
  line: { at, by, member, text, picture },
  thread,
  site,
  visitor,
  isNewDay,
  isLastSeen,
}: {
  line: ShownLine;
  thread: string;
  site: string;
  visitor: string;
  isNewDay: boolean;
  isLastSeen: boolean;
}) {
  if (by === 'event')
    return (
      <li className="ps-16 text-soft">
        {isNewDay && `${day(at)} · `}
        {text}
      </li>
    );
  const name = by === 'visitor' ? visitor : by === 'script' ? site : (member ?? 'somebody who has left');
  return (
    <li
      className={`grid grid-cols-[44px_minmax(0,1fr)] items-baseline gap-x-2 sm:grid-cols-[56px_minmax(80px,140px)_minmax(0,1fr)] ${by === 'note' ? 'rounded bg-bone py-1' : ''}`}
    >
      <time dateTime={at} className="text-soft tabular-nums">
        {clock(at)}
      </time>
      <b className={`truncate ${by === 'visitor' ? '' : 'text-pine'}`}>{by === 'note' ? `${name}, note` : name}</b>
      <span className="whitespace-pre-wrap break-words max-sm:col-start-2">
        {picture && (
          <a
            href={addressOf('GET /api/conversations/{id}/pictures/{picture}', { params: { id: thread, picture: picture.id } })}
            target="_blank"
            rel="noopener"
            className="block w-fit"
          >
            <img
              src={addressOf('GET /api/conversations/{id}/pictures/{picture}', { params: { id: thread, picture: picture.id } })}
              alt={text}
              width={picture.width}
              height={picture.height}
              className="max-h-60 w-auto rounded border border-line"
            />
          </a>
        )}
        {text}
        {isLastSeen && <span className="text-soft"> · seen</span>}
      </span>
    </li>
  );
}
