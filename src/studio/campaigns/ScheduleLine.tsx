'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { CampaignStatus } from '@/core/campaigns/campaign';
import { call } from '../parts/net/call';
import { Phrase } from '../messages/Phrase';

export interface Schedule {
  /** UTC ms. */
  readonly startsAt: number | undefined;
  readonly endsAt: number | undefined;
}

/** When a campaign begins and ends by itself, and stopping it at once: neither is a release. */
export function ScheduleLine({
  campaign,
  status,
  isReleased,
  schedule,
}: {
  campaign: string;
  status: CampaignStatus;
  /** Part of the release that is live. */
  isReleased: boolean;
  schedule: Schedule;
}) {
  const router = useRouter();
  async function setStatus(next: CampaignStatus, said: string): Promise<void> {
    const result = await call('POST /api/campaigns/{id}', { params: { id: campaign }, body: { status: next } });
    if (result.ok) toast.success(said);
    else toast.error(result.message);
    router.refresh();
  }
  return (
    <span className="flex flex-wrap items-center gap-3">
      {isReleased && status === 'live' && (
        <button
          className="act-quiet"
          onClick={() => void setStatus('paused', 'Paused: no page shows it from its next word with Crindle on, within a minute')}
        >
          Pause now
        </button>
      )}
      {isReleased && status === 'paused' && (
        <button className="act-quiet" onClick={() => void setStatus('live', 'It goes on')}>
          Let it go on
        </button>
      )}
      <Phrase label="Schedule" words={inWords(schedule)}>
        {(close) => <ScheduleForm campaign={campaign} schedule={schedule} onDone={close} />}
      </Phrase>
    </span>
  );
}

function inWords({ startsAt, endsAt }: Schedule): string {
  const parts = [
    ...(startsAt === undefined ? [] : [`starts ${told(startsAt)}`]),
    ...(endsAt === undefined ? [] : [`ends ${told(endsAt)}`]),
  ];
  return parts.length ? parts.join(', ') : 'starts and ends by hand';
}

const told = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit' });

function ScheduleForm({ campaign, schedule, onDone }: { campaign: string; schedule: Schedule; onDone: () => void }) {
  const router = useRouter();
  const [startsAt, setStartsAt] = useState(toField(schedule.startsAt));
  const [endsAt, setEndsAt] = useState(toField(schedule.endsAt));
  const [error, setError] = useState<string>();
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  async function save(): Promise<void> {
    const body = { startsAt: fromField(startsAt), endsAt: fromField(endsAt) };
    const result = await call('PUT /api/campaigns/{id}/schedule', { params: { id: campaign }, body });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    onDone();
    router.refresh();
  }
  return (
    <form
      className="grid w-80 gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {(
        [
          ['Starts', startsAt, setStartsAt],
          ['Ends', endsAt, setEndsAt],
        ] as const
      ).map(([label, value, set]) => (
        <label key={label} className="flex items-center justify-between gap-2">
          {label}
          <input type="datetime-local" step="1" className="field" value={value} onChange={({ target }) => set(target.value)} />
        </label>
      ))}
      <p className="text-soft">In the time of {zone}. What starts later is published now, and held back until then.</p>
      <p role="alert" className="text-danger empty:hidden">
        {error}
      </p>
      <div className="flex gap-2">
        <button className="act">Set</button>
        <button
          type="button"
          className="act-quiet"
          onClick={() => {
            setStartsAt('');
            setEndsAt('');
          }}
        >
          By hand
        </button>
      </div>
    </form>
  );
}

/** An instant as the field for a local date and time has it. */
function toField(at: number | undefined): string {
  if (at === undefined) return '';
  return new Date(at - new Date(at).getTimezoneOffset() * 60_000).toISOString().slice(0, 19);
}

const fromField = (value: string): string | null => (value === '' ? null : new Date(value).toISOString());
