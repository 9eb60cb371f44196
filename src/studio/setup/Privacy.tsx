'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';

export interface PrivacyChoice {
  readonly consent: 'assumed' | 'asked';
  readonly keptParameters: readonly string[];
}

const CHOICES = [
  ['assumed', 'Everyone but those whose browser asks not to be tracked', 'They are recorded once they agree.'],
  ['asked', 'Only those who have agreed', 'Your page calls crindle.consent when they do; nothing is kept before.'],
] as const;

export function Privacy({ initial, onConsent }: { initial: PrivacyChoice; onConsent: (consent: PrivacyChoice['consent']) => void }) {
  const [consent, setConsent] = useState(initial.consent);
  const [text, setText] = useState(initial.keptParameters.join(' '));
  const [error, setError] = useState<string>();

  async function save(): Promise<void> {
    const keptParameters = text.split(/[\s,]+/).filter(Boolean);
    const result = await call('PUT /api/site/privacy', { body: { consent, keptParameters } });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    onConsent(consent);
    toast.success('Saved; it holds within seconds');
  }

  return (
    <section className="sheet p-5" aria-labelledby="privacy">
      <h2 id="privacy" className="mb-3 text-lg font-bold">
        Privacy
      </h2>
      <fieldset className="mb-4 grid gap-2">
        <legend className="mb-1 text-soft">Who is recorded?</legend>
        {CHOICES.map(([value, label, note]) => (
          <label key={value} className="flex gap-2">
            <input type="radio" name="consent" className="mt-1" checked={consent === value} onChange={() => setConsent(value)} />
            <span>
              {label}
              <span className="block text-soft">{note}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <label className="grid gap-1">
        <span className="text-soft">
          Parameters of addresses that are kept, such as utm_* or ref. All others are cut off before anything is stored.
        </span>
        <input
          className="field font-mono text-[13px]"
          value={text}
          aria-invalid={error !== undefined}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <p role="alert" className="my-2 text-danger">
        {error}
      </p>
      <button className="act-quiet" onClick={() => void save()}>
        Save privacy
      </button>
    </section>
  );
}
