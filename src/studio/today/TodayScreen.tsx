'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { Attention } from '@/server/today/attention';
import type { CourseName } from '@/server/today/course';
import { fetched } from '../parts/net/call';
import { ScreenHead } from '../parts/layout/ScreenHead';
import { CourseChart } from './CourseChart';
import { Happenings } from './Happenings';
import { NowRibbons } from './NowRibbons';
import { useLive } from './useLive';

const EVERY_MS = 60_000;
const COURSES: readonly { readonly name: CourseName; readonly words: string }[] = [
  { name: 'visits', words: 'visits' },
  { name: 'shown', words: 'messages shown' },
  { name: 'converted', words: 'conversions' },
];

/** Who is on the site now, what happens there, today against a usual day, and what needs attention. */
export function TodayScreen({ sections }: { sections: readonly string[] }) {
  const { live, trouble } = useLive();
  const { data, error, refetch } = useQuery({
    queryKey: ['today'],
    refetchInterval: EVERY_MS,
    queryFn: async ({ signal }) => {
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
      return fetched('GET /api/today', { query: { zone }, signal });
    },
  });
  return (
    <div className="p-6">
      <ScreenHead
        title="Today"
        note={
          <span suppressHydrationWarning>{new Date().toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })}</span>
        }
      />
      {error && (
        <p role="alert" className="mb-3 text-danger">
          {error.message}{' '}
          <button className="underline" onClick={() => void refetch()}>
            Try again
          </button>
        </p>
      )}
      {data && data.attention.length > 0 && <AttentionList items={data.attention} />}
      <section
        aria-label="Today against a usual day"
        className={`sheet mb-5 grid grid-cols-1 divide-line max-lg:divide-y lg:divide-x ${data?.goal ? 'lg:grid-cols-4' : 'lg:grid-cols-3'}`}
      >
        {data?.goal?.course && <CourseChart words={data.goal.name} course={data.goal.course} />}
        {data?.goal && !data.goal.course && (
          <p className="p-4 text-soft">“{data.goal.name}” cannot be counted at present: what counts is away, and comes back by itself.</p>
        )}
        {COURSES.map(({ name, words }) =>
          data ? (
            <CourseChart key={name} words={words} course={data.courses[name]} />
          ) : (
            <div key={name} className="p-4">
              <div className="skeleton h-24" role="status" aria-label="Counting today" />
            </div>
          ),
        )}
      </section>
      {trouble && (
        <p role="status" className="mb-3 text-danger">
          {trouble}
        </p>
      )}
      <div className="grid gap-5 lg:grid-cols-[minmax(0,1fr)_320px]">
        <NowRibbons live={live} sections={sections} />
        <aside className="grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-5">
          <section className="sheet p-4" aria-labelledby="pages-now">
            <h2 id="pages-now" className="mb-2 font-bold">
              Pages they are on
            </h2>
            {!live && <div className="skeleton h-24" role="status" aria-label="Looking" />}
            {live?.news.pages.length === 0 && <p className="text-soft">None at this moment.</p>}
            <ul className="grid gap-1">
              {live?.news.pages.map(({ path, people }) => (
                <li key={path} className="flex items-baseline gap-3">
                  <span className="min-w-0 flex-1 truncate font-mono text-[13px]">{path}</span>
                  <b>{people}</b>
                </li>
              ))}
            </ul>
          </section>
          <Happenings happenings={live?.news.happenings} behind={live?.behind ?? 0} />
        </aside>
      </div>
    </div>
  );
}

function AttentionList({ items }: { items: readonly Attention[] }) {
  return (
    <section aria-labelledby="attention" className="sheet mb-5 border-l-4 border-l-danger px-4 py-3">
      <h2 id="attention" className="mb-1 font-bold">
        {items.length === 1 ? 'One thing needs attention' : `${items.length} things need attention`}
      </h2>
      <ul className="grid gap-1">
        {items.map(({ code, what, reason, fix }) => (
          <li key={code + what} className="flex flex-wrap items-baseline gap-x-3">
            <b>{what}.</b>
            <span className="min-w-0 text-soft max-sm:basis-full sm:flex-1">{reason}</span>
            <Link className="shrink-0 font-semibold text-pine underline" href={fix.href}>
              {fix.words}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
