'use client';

import { ArrowLeft } from 'lucide-react';
import Link from 'next/link';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { ScreenHead } from '../parts/layout/ScreenHead';
import { useNow } from '../parts/layout/useNow';
import { PresencePhrase } from './PresencePhrase';
import { ThreadPane } from './ThreadPane';
import type { Listed, ListedThread } from './useConversations';
import { useFollowing, useThreads } from './useConversations';
import { nameOf, waitWords } from './words';

const FILTERS = [
  ['open', 'open'],
  ['mine', 'mine'],
  ['closed', 'closed'],
] as const;
type Filter = (typeof FILTERS)[number][0];

/** Conversations listed at first, with each step, and at most. */
const PAGE = 200;
const MOST = 2000;

const LIST = new Intl.ListFormat('en-GB');

/** Who waits for us, longest first; beside it one exchange, with who they are and what they did. */
export function ConversationsScreen({ site, mayAnswer, sections }: { site: string; mayAnswer: boolean; sections: readonly string[] }) {
  const parameters = useSearchParams();
  const router = useRouter();
  const path = usePathname();
  const [filter, setFilter] = useState<Filter>('open');
  const [words, setWords] = useState('');
  const [most, setMost] = useState(PAGE);
  const writing = useFollowing();
  const query = new URLSearchParams({
    ...(filter === 'mine' ? { mine: '', state: 'open' } : { state: filter }),
    ...(words.trim() ? { words: words.trim() } : {}),
    ...(most > PAGE ? { most: String(most) } : {}),
  }).toString();
  const { data, error } = useThreads(query);
  const chosen = parameters.get('thread') ?? undefined;
  const choose = (id: string): void => router.replace(`${path}?thread=${id}`, { scroll: false });
  const waiting = data?.threads.filter(({ waitsSince }) => waitsSince !== null) ?? [];
  const [isLoud, setIsLoud] = useLoudness();
  useTelling(waiting, isLoud);
  const here = data?.colleagues.filter(({ isHere }) => isHere) ?? [];
  return (
    <div className="p-6">
      <ScreenHead
        title="Conversations"
        note={
          data &&
          (here.length > 0
            ? `here now: ${LIST.format(here.map(({ name }) => name))}`
            : 'nobody is here now: visitors are told so, and asked for an email where the campaign says so')
        }
      >
        {data && mayAnswer && (
          <label className="flex items-center gap-2 text-soft">
            <input type="checkbox" checked={isLoud} onChange={({ target }) => setIsLoud(target.checked)} />a tone when somebody waits
          </label>
        )}
        {data && mayAnswer && <PresencePhrase mine={data.colleagues.find(({ member }) => member === data.me)} />}
      </ScreenHead>
      <div className="grid grid-cols-1 gap-4 lg:grid-cols-[minmax(300px,2fr)_3fr]">
        {/* On a small screen there is room for one of the two. */}
        <div className={`grid min-w-0 content-start gap-2 ${chosen ? 'max-lg:hidden' : ''}`}>
          <p className="flex flex-wrap items-center gap-3">
            <span role="group" aria-label="Which" className="flex overflow-hidden rounded-md border border-line">
              {FILTERS.map(([value, label]) => (
                <button
                  key={value}
                  aria-pressed={filter === value}
                  className="px-3 py-1.5 aria-pressed:bg-ink aria-pressed:text-paper"
                  onClick={() => {
                    setFilter(value);
                    setMost(PAGE);
                  }}
                >
                  {label}
                </button>
              ))}
            </span>
            <input
              type="search"
              className="field min-w-0 flex-1"
              aria-label="Search in all that was written"
              placeholder="words, or an email"
              maxLength={200}
              value={words}
              onChange={({ target }) => setWords(target.value)}
            />
          </p>
          {error && (
            <p role="alert" className="text-danger">
              {error.message}
            </p>
          )}
          {data && <ThreadList data={data} chosen={chosen} onChoose={choose} />}
          {data?.hasMore &&
            (most < MOST ? (
              <button className="act-quiet justify-self-start" onClick={() => setMost(Math.min(MOST, most + PAGE))}>
                Show more
              </button>
            ) : (
              <p className="text-soft">There are more: search by a word that was written, or by an email.</p>
            ))}
        </div>
        {chosen ? (
          <div className="grid min-w-0 content-start gap-3">
            <Link href={path} className="act-quiet justify-self-start lg:hidden">
              <ArrowLeft size={16} aria-hidden="true" /> All conversations
            </Link>
            <ThreadPane
              key={chosen}
              id={chosen}
              site={site}
              sections={sections}
              mayAnswer={mayAnswer}
              isWriting={writing.has(chosen)}
              colleagues={data?.colleagues ?? []}
              onChoose={choose}
            />
          </div>
        ) : (
          <p className="sheet p-5 text-soft max-lg:hidden">Choose a conversation to read it, with who they are and what they did before.</p>
        )}
      </div>
    </div>
  );
}

function ThreadList({ data, chosen, onChoose }: { data: Listed; chosen: string | undefined; onChoose: (id: string) => void }) {
  const now = useNow();
  // By the server's clock, as far as it is ahead of this one.
  const [ahead] = useState(() => data.now - Date.now());
  const { threads } = data;
  const waits = (thread: ListedThread): number => (thread.waitsSince === null ? 0 : now + ahead - Date.parse(thread.waitsSince));
  const longest = Math.max(60_000, ...threads.map(waits));
  if (threads.length === 0)
    return <p className="sheet p-5 text-soft">Nobody. A conversation begins where a chat message lets visitors write to a person.</p>;
  return (
    <ul className="sheet overflow-hidden" aria-label="Who waits for us, longest first">
      {threads.map((thread) => {
        const wait = waits(thread);
        return (
          <li
            key={thread.id}
            className={`border-b border-line last:border-0 ${thread.id === chosen ? 'shadow-[inset_3px_0_0_var(--color-ink)]' : ''}`}
          >
            <button
              data-row
              aria-current={thread.id === chosen}
              className="grid w-full grid-cols-[minmax(0,1fr)_minmax(90px,40%)] items-center gap-3 px-4 py-2 text-start hover:bg-bone"
              onClick={() => onChoose(thread.id)}
            >
              <span className="min-w-0">
                <span className="block truncate">
                  <b>{nameOf(thread)}</b> <span className="text-soft">{[thread.device, thread.town].filter(Boolean).join(' · ')}</span>
                  {thread.unseen > 0 && <span className="sr-only"> {thread.unseen} not seen yet</span>}
                </span>
                <span className={`block truncate ${thread.unseen > 0 ? 'font-semibold' : 'text-soft'}`}>{thread.lastText}</span>
              </span>
              {thread.waitsSince === null ? (
                <span className="text-end text-soft">
                  {thread.state === 'closed' ? 'closed' : thread.lastBy === 'team' ? 'waits for their answer' : ''}
                  {thread.memberName && <span className="block">{thread.memberName}</span>}
                </span>
              ) : (
                <span className="flex items-center justify-end gap-2">
                  <span className="font-semibold tabular-nums">{waitWords(wait)}</span>
                  <span
                    aria-hidden
                    className={`h-2.5 rounded-s-sm ${wait > LONG_MS ? 'bg-danger' : 'bg-ink'}`}
                    style={{ width: `${Math.max(4, (wait / longest) * 60)}%` }}
                  />
                </span>
              )}
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** Longer than this nobody waits gladly. */
const LONG_MS = 10 * 60_000;

/** Whoever looks elsewhere is told: in the tab's title, and by the browser where it may. */
function useTelling(waiting: readonly ListedThread[], isLoud: boolean): void {
  const told = useRef<ReadonlySet<string> | undefined>(undefined);
  const count = waiting.length;
  useEffect(() => {
    const title = document.title.replace(/^\(\d+\) /, '');
    document.title = count > 0 ? `(${count}) ${title}` : title;
    return () => void (document.title = title);
  }, [count]);
  useEffect(() => {
    const keys = waiting.map(({ id, waitsSince }) => `${id} ${waitsSince}`);
    const before = told.current;
    told.current = new Set(keys);
    if (!before) return;
    if (isLoud && keys.some((key) => !before.has(key))) playTone();
    if (!document.hidden || typeof Notification === 'undefined' || Notification.permission !== 'granted') return;
    waiting.forEach((thread, nth) => {
      if (!before.has(keys[nth] ?? '')) new Notification(nameOf(thread), { body: thread.lastText, tag: thread.id });
    });
  }, [waiting, isLoud]);
}

const LOUD = 'crindle tone';

/** Whether this browser makes itself heard; off until somebody wants it. */
function useLoudness(): readonly [boolean, (isLoud: boolean) => void] {
  const isLoud = useSyncExternalStore(
    (changed) => {
      addEventListener('storage', changed);
      return () => removeEventListener('storage', changed);
    },
    () => localStorage.getItem(LOUD) === 'on',
    () => false,
  );
  return [
    isLoud,
    (next) => {
      localStorage.setItem(LOUD, next ? 'on' : 'off');
      // Only other tabs hear of it by themselves.
      dispatchEvent(new StorageEvent('storage', { key: LOUD }));
      if (next) playTone();
    },
  ];
}

/** Two short tones, softly; nothing where the browser does not let a page be heard. */
function playTone(): void {
  try {
    const audio = new AudioContext();
    const volume = audio.createGain();
    volume.gain.value = 0.08;
    volume.connect(audio.destination);
    [520, 780].forEach((pitch, nth) => {
      const tone = audio.createOscillator();
      tone.frequency.value = pitch;
      tone.connect(volume);
      tone.start(audio.currentTime + nth * 0.16);
      tone.stop(audio.currentTime + nth * 0.16 + 0.14);
      if (nth === 1) tone.onended = () => void audio.close();
    });
  } catch (cause) {
    console.debug('no tone', cause);
  }
}
