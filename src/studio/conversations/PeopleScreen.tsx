'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { commaList } from '@/core/parsing/commaList';
import type { Hours } from '@/core/conversations/hours';
import { hoursSchema } from '@/core/conversations/hours';
import { issueWords, parseWith } from '@/core/parsing/parse';
import type { SavedAnswer } from '@/server/db/savedAnswers';
import { addressOf, call, callWithFile } from '../parts/net/call';
import type { Answered } from '../parts/net/send';

export interface Person {
  readonly member: number;
  readonly name: string;
  readonly email: string;
  readonly answers: boolean;
  readonly title: string;
  readonly introduction: string;
  readonly meeting: string;
  /** The address of their picture. */
  readonly picture: string | null;
  readonly hours: Hours | null;
  readonly isHere: boolean;
  readonly calendar: {
    readonly url: string;
    readonly allowPrivate: boolean;
    readonly hasFile: boolean;
    /** When it was read last, UTC ms. */
    readonly at: number | null;
    readonly note: string;
  };
}

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;

/** Everybody who may answer visitors, and the answers that are kept. */
export function PeopleScreen({
  people,
  saved,
  me,
  mayEditAll,
}: {
  people: readonly Person[];
  saved: readonly SavedAnswer[];
  me: number;
  mayEditAll: boolean;
}) {
  return (
    <>
      {people.map((person) => (
        <PersonForm key={person.member} person={person} mayEdit={mayEditAll || person.member === me} />
      ))}
      <SavedAnswers saved={saved} />
    </>
  );
}

/** "09:00–12:00, 13:00–17:00" */
const rangesText = (ranges: Hours['week'][string]): string => (ranges ?? []).map(([from, to]) => `${from}–${to}`).join(', ');

/** The ranges that were typed; as they are, to be refused in words, where they are none. */
const rangesTyped = (text: string): [string, string][] =>
  commaList(text).map((part) => {
    const [from = '', to = ''] = part.split(/\s*[–-]\s*/);
    return [from, to];
  });

function PersonForm({ person, mayEdit }: { person: Person; mayEdit: boolean }) {
  const router = useRouter();
  const [draft, setDraft] = useState({
    answers: person.answers,
    title: person.title,
    introduction: person.introduction,
    meeting: person.meeting,
    hasHours: person.hours !== null,
    zone: person.hours?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
    week: DAYS.map((_, nth) => rangesText(person.hours?.week[String(nth + 1)])),
    off: (person.hours?.off ?? []).join(', '),
  });
  const [error, setError] = useState<string>();
  const set = (next: Partial<typeof draft>): void => setDraft({ ...draft, ...next });
  const hours = (): Hours | null =>
    draft.hasHours
      ? {
          zone: draft.zone,
          week: Object.fromEntries(draft.week.map((text, nth) => [String(nth + 1), rangesTyped(text)])),
          off: draft.off.split(/[\s,]+/).filter(Boolean),
        }
      : null;
  const save = async (): Promise<void> => {
    setError(undefined);
    const given = hours();
    const parsed = given && parseWith(hoursSchema, given);
    if (parsed && !parsed.ok) return setError(parsed.issues.map(issueWords).join('; '));
    const { answers, title, introduction, meeting } = draft;
    const result = await call('PUT /api/people/{id}', {
      params: { id: person.member },
      body: { answers, title, introduction, meeting, hours: given },
    });
    if (!result.ok) return setError(result.message);
    toast('Saved');
    router.refresh();
  };
  return (
    <form
      className="sheet grid gap-3 p-5"
      aria-label={person.name}
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2 className="flex flex-wrap items-baseline gap-3 text-lg font-bold">
        {person.name} <span className="text-base font-normal text-soft">{person.email}</span>
        <span className={`ms-auto text-base font-normal ${person.isHere ? 'text-pine' : 'text-soft'}`}>
          {person.isHere ? 'is here now' : 'is away now'}
        </span>
      </h2>
      <fieldset disabled={!mayEdit} className="grid gap-3 lg:grid-cols-2">
        <div className="grid content-start gap-3">
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={draft.answers} onChange={({ target }) => set({ answers: target.checked })} />
            answers visitors
          </label>
          {(
            [
              ['title', 'What visitors read beside the name', 'Customer service', 80],
              ['introduction', 'A line of introduction', 'I have kept Lantern Col since 2014.', 300],
              ['meeting', 'Where a meeting can be arranged', 'https://meet.example.org/ines', 2000],
            ] as const
          ).map(([name, label, hint, most]) => (
            <label key={name} className="grid gap-1">
              <span className="text-soft">{label}</span>
              <input
                className="field"
                placeholder={hint}
                maxLength={most}
                value={draft[name]}
                onChange={({ target }) => set({ [name]: target.value })}
              />
            </label>
          ))}
        </div>
        <div className="grid content-start gap-2">
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={draft.hasHours} onChange={({ target }) => set({ hasHours: target.checked })} />
            is here by hours, unless they say otherwise
          </label>
          {draft.hasHours && (
            <>
              <label className="flex items-center gap-2">
                <span className="w-24 text-soft">Zone</span>
                <input className="field flex-1" maxLength={80} value={draft.zone} onChange={({ target }) => set({ zone: target.value })} />
              </label>
              {DAYS.map((name, nth) => (
                <label key={name} className="flex items-center gap-2">
                  <span className="w-24 text-soft">{name}</span>
                  <input
                    className="field flex-1"
                    placeholder="09:00–12:00, 13:00–17:00"
                    maxLength={100}
                    value={draft.week[nth] ?? ''}
                    onChange={({ target }) => set({ week: draft.week.map((one, at) => (at === nth ? target.value : one)) })}
                  />
                </label>
              ))}
              <label className="flex items-center gap-2">
                <span className="w-24 text-soft">Days off</span>
                <input
                  className="field flex-1"
                  placeholder="2026-12-24, 2026-12-25"
                  maxLength={5000}
                  value={draft.off}
                  onChange={({ target }) => set({ off: target.value })}
                />
              </label>
            </>
          )}
        </div>
      </fieldset>
      {error && (
        <p role="alert" className="text-danger">
          {error}
        </p>
      )}
      {mayEdit && (
        <p className="flex flex-wrap items-center gap-4">
          <button className="act">Save</button>
          {person.hours && (
            <a className="act-quiet" href={addressOf('GET /hours.ics', { query: { member: person.member } })} download>
              Hours as calendar
            </a>
          )}
        </p>
      )}
      {mayEdit && <PictureIn member={person.member} picture={person.picture} />}
      {mayEdit && <CalendarIn member={person.member} calendar={person.calendar} />}
    </form>
  );
}

/** What visitors see somebody by. */
function PictureIn({ member, picture }: { member: number; picture: string | null }) {
  const router = useRouter();
  const [isBusy, setIsBusy] = useState(false);
  const [error, setError] = useState<string>();
  const change = async (work: () => Promise<Answered<unknown>>): Promise<void> => {
    setError(undefined);
    setIsBusy(true);
    const result = await work();
    setIsBusy(false);
    if (!result.ok) return setError(result.message);
    router.refresh();
  };
  return (
    <div className="flex flex-wrap items-center gap-3 border-t border-line pt-3" role="group" aria-label="Picture">
      {picture ? (
        <img src={picture} alt="" width={48} height={48} className="size-12 rounded object-cover" />
      ) : (
        <span className="text-soft">Visitors see the first letter of the name.</span>
      )}
      <label className="act-quiet cursor-pointer focus-within:outline-2 focus-within:outline-pine">
        {isBusy ? 'Taking it in …' : picture ? 'Another picture' : 'A picture'}
        <input
          type="file"
          accept="image/*"
          className="sr-only"
          disabled={isBusy}
          onChange={({ target }) => {
            const file = target.files?.[0];
            if (file) void change(() => callWithFile('POST /api/people/{id}/picture', { params: { id: member }, file }));
          }}
        />
      </label>
      {picture && (
        <button
          type="button"
          className="act-quiet"
          disabled={isBusy}
          onClick={() => void change(() => call('DELETE /api/people/{id}/picture', { params: { id: member } }))}
        >
          No picture
        </button>
      )}
      {error && (
        <span role="alert" className="text-danger">
          {error}
        </span>
      )}
    </div>
  );
}

const MOST_BYTES = 5 * 1024 * 1024;

/** When somebody is busy elsewhere, by the address of a calendar or a file of one. */
function CalendarIn({ member, calendar }: { member: number; calendar: Person['calendar'] }) {
  const router = useRouter();
  const [url, setUrl] = useState(calendar.url);
  const [allowPrivate, setAllowPrivate] = useState(calendar.allowPrivate);
  const [error, setError] = useState<string>();
  const save = async (body: { url: string; text: string | null }): Promise<void> => {
    setError(undefined);
    const result = await call('PUT /api/people/{id}/calendar', { params: { id: member }, body: { allowPrivate, ...body } });
    if (!result.ok) return setError(result.message);
    toast(body.url || body.text !== null ? 'Saved: it is read in a moment' : 'Taken out: only the hours count');
    router.refresh();
  };
  const bring = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    if (file.size > MOST_BYTES) return setError(`file: met ${Math.ceil(file.size / 1024 / 1024)} MB, expected at most 5 MB`);
    await save({ url: '', text: await file.text() });
  };
  return (
    <div className="grid gap-2 border-t border-line pt-3" role="group" aria-label="Busy elsewhere">
      <p className="flex flex-wrap items-center gap-3">
        <label className="flex min-w-64 flex-1 items-center gap-2">
          <span className="text-soft">Busy as this calendar says</span>
          <input
            className="field min-w-0 flex-1"
            placeholder="https://calendar.example.org/ines.ics"
            maxLength={2000}
            value={url}
            onChange={({ target }) => setUrl(target.value)}
          />
        </label>
        <button type="button" className="act-quiet" onClick={() => void save({ url: url.trim(), text: null })}>
          Follow it
        </button>
        <label className="act-quiet cursor-pointer">
          or a file
          <input type="file" accept=".ics,text/calendar" className="sr-only" onChange={({ target }) => void bring(target.files?.[0])} />
        </label>
        <label className="flex items-center gap-2 text-soft">
          <input type="checkbox" checked={allowPrivate} onChange={({ target }) => setAllowPrivate(target.checked)} />
          in our own network
        </label>
      </p>
      {(calendar.url || calendar.hasFile) && (
        <p className={`flex flex-wrap items-center gap-3 ${calendar.note ? 'text-danger' : 'text-soft'}`}>
          {calendar.note
            ? `It could not be read: ${calendar.note}. What was known of it stays.`
            : calendar.at === null
              ? 'It is read in a moment.'
              : `${calendar.hasFile ? 'A file, read' : 'Read every hour, last'} ${new Date(calendar.at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}.`}
          <button
            type="button"
            className="act-quiet"
            onClick={() => {
              setUrl('');
              void save({ url: '', text: null });
            }}
          >
            Take the calendar out
          </button>
        </p>
      )}
      {error && (
        <p role="alert" className="text-danger">
          {error}
        </p>
      )}
    </div>
  );
}

function SavedAnswers({ saved }: { saved: readonly SavedAnswer[] }) {
  const router = useRouter();
  const [draft, setDraft] = useState({ name: '', text: '' });
  const [error, setError] = useState<string>();
  const keep = async (): Promise<void> => {
    setError(undefined);
    const result = await call('POST /api/saved-answers', { body: draft });
    if (!result.ok) return setError(result.message);
    setDraft({ name: '', text: '' });
    router.refresh();
  };
  const drop = async (id: string): Promise<void> => {
    const result = await call('DELETE /api/saved-answers/{id}', { params: { id } });
    if (!result.ok) toast.error(result.message);
    router.refresh();
  };
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="saved">
      <h2 id="saved" className="text-lg font-bold">
        Saved answers <span className="text-base font-normal text-soft">begin one in a conversation, and Tab completes it</span>
      </h2>
      <ul className="grid gap-2">
        {saved.map(({ id, name, text }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-3">
            <b>{name}</b>
            <span className="min-w-0 flex-1 truncate">{text}</span>
            <button
              className="text-soft underline decoration-line underline-offset-4 hover:text-danger"
              aria-label={`Delete ${name}`}
              onClick={() => void drop(id)}
            >
              delete
            </button>
          </li>
        ))}
      </ul>
      <form
        className="grid gap-2 sm:grid-cols-[200px_minmax(0,1fr)_auto] sm:items-start"
        aria-label="A new saved answer"
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <input
          className="field"
          aria-label="Name"
          placeholder="winter room"
          maxLength={100}
          value={draft.name}
          onChange={({ target }) => setDraft({ ...draft, name: target.value })}
        />
        <textarea
          className="field [field-sizing:content]"
          rows={1}
          aria-label="What it says"
          placeholder="The winter room next door sleeps six."
          maxLength={4000}
          value={draft.text}
          onChange={({ target }) => setDraft({ ...draft, text: target.value })}
        />
        <button className="act-quiet">Keep it</button>
      </form>
      {error && (
        <p role="alert" className="text-danger">
          {error}
        </p>
      )}
    </section>
  );
}
