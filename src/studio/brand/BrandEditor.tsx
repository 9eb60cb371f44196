'use client';

import { useQueryClient } from '@tanstack/react-query';
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Brand, Sender, SiteValue } from '@/core/brand/brand';
import { contrastOf, nearestPassing } from '@/core/brand/contrast';
import { keyOf } from '@/core/messages/merge';
import { call } from '../parts/net/call';
import { PicturePicker } from '../pictures/PicturePicker';
import { Phrase } from '../messages/Phrase';
import { NumberField } from '../rule/fields';
import { BrandSample } from './BrandSample';
import { BRAND } from './useBrand';

/** What a mark needs against what it stands on (WCAG 2.2, 1.4.11). */
const MARK_RATIO = 3;
const OURS = '#2d4a43';

/** What all messages of the site have in common. `uses`: names of the campaigns that name a value, by its key. */
export function BrandEditor({ initial, uses }: { initial: Brand; uses: Readonly<Record<string, readonly string[]>> }) {
  const queries = useQueryClient();
  const [stored, setStored] = useState(initial);
  const [brand, setBrand] = useState(initial);
  const [error, setError] = useState<string>();
  const set = (next: Partial<Brand>): void => setBrand({ ...brand, ...next });
  const isChanged = JSON.stringify(brand) !== JSON.stringify(stored);

  async function save(): Promise<void> {
    const given = JSON.parse(JSON.stringify(brand)) as Brand;
    const result = await call('PUT /api/site/brand', { body: { was: stored, brand: given } });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    setStored(given);
    setBrand(given);
    await queries.invalidateQueries({ queryKey: BRAND });
    toast.success('Saved; visitors see it with the next release');
  }

  return (
    <div className="grid grid-cols-1 items-start gap-6 lg:grid-cols-[minmax(0,1fr)_420px]">
      <div className="grid min-w-0 grid-cols-1 gap-6">
        <Looks brand={brand} set={set} />
        <Senders senders={brand.senders ?? []} onChange={(senders) => set({ senders })} />
        <Values values={brand.values ?? []} stored={stored.values ?? []} uses={uses} onChange={(values) => set({ values })} />
      </div>
      <div className="sticky top-4 grid min-w-0 grid-cols-1 gap-3">
        <BrandSample brand={brand} />
        <p role="alert" className="text-danger empty:hidden">
          {error}
        </p>
        <div className="flex items-center gap-3">
          <button className="act" disabled={!isChanged} onClick={() => void save()}>
            Save the brand
          </button>
          <button className="act-quiet" disabled={!isChanged} onClick={() => setBrand(stored)}>
            As it was
          </button>
        </div>
        <p className="text-soft">A message that has a colour, corners or a font of its own keeps them.</p>
      </div>
    </div>
  );
}

function Part({ id, title, note, children }: { id: string; title: string; note: string; children: ReactNode }) {
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby={id}>
      <div>
        <h2 id={id} className="text-lg font-bold">
          {title}
        </h2>
        <p className="text-soft">{note}</p>
      </div>
      {children}
    </section>
  );
}

function Looks({ brand, set }: { brand: Brand; set: (next: Partial<Brand>) => void }) {
  const { colour = OURS, corners = 6, font, logo } = brand;
  const ratio = contrastOf(colour, '#ffffff');
  const better = nearestPassing(colour, '#ffffff', MARK_RATIO);
  return (
    <Part id="looks" title="Looks" note="How a message looks that says nothing else.">
      <p className="font-display text-lg leading-8">
        Buttons and marks are{' '}
        <Phrase
          label="Colour"
          words={
            <>
              <span aria-hidden="true" className="me-1 inline-block h-3 w-3 rounded-sm align-[-1px]" style={{ background: colour }} />
              {brand.colour ?? 'the usual green'}
            </>
          }
        >
          {() => (
            <label className="flex items-center gap-2">
              Of buttons and marks
              <input type="color" className="h-8 w-16" value={colour} onChange={({ target }) => set({ colour: target.value })} />
            </label>
          )}
        </Phrase>
        , with{' '}
        <Phrase label="Corners" words={corners === 0 ? 'square corners' : `corners of ${corners} px`}>
          {() => (
            <label className="flex items-center gap-2">
              Radius in pixels
              <NumberField label="Corners" value={corners} min={0} max={32} onChange={(next) => set({ corners: Math.round(next) })} />
            </label>
          )}
        </Phrase>
        , in{' '}
        <Phrase label="Font" words={font ?? 'the system’s font'}>
          {() => (
            <label className="grid gap-1">
              The name of a font that your pages bring
              <input
                className="field"
                value={font ?? ''}
                placeholder="Nothing: the system’s"
                maxLength={60}
                onChange={({ target }) => set({ font: target.value.trim() === '' ? undefined : target.value })}
              />
            </label>
          )}
        </Phrase>
        .
      </p>
      {ratio < MARK_RATIO && (
        <p className="flex flex-wrap items-center gap-2 text-danger">
          {colour} stands out from white by {ratio.toFixed(1)} : 1; a mark needs {MARK_RATIO} : 1.
          <button className="act-quiet" onClick={() => set({ colour: better })}>
            <span aria-hidden="true" className="me-1 inline-block h-3 w-3 rounded-sm" style={{ background: better }} />
            Take {better}
          </button>
        </p>
      )}
      <div className="flex items-center gap-4">
        {logo && <img src={logo.src} alt={logo.alt} className="h-12 max-w-40 object-contain" />}
        <Phrase label="Logo" words={logo ? 'Another logo' : 'Choose a logo'}>
          {(close) => (
            <PicturePicker
              chosen={logo?.src ?? ''}
              onPick={({ url, width, height, name }) => {
                set({ logo: { src: url, width, height, alt: name.replace(/\.\w+$/, '') } });
                close();
              }}
            />
          )}
        </Phrase>
        {logo && (
          <>
            <label className="flex items-center gap-2">
              Described as
              <input
                className="field"
                value={logo.alt}
                maxLength={300}
                onChange={({ target }) => set({ logo: { ...logo, alt: target.value } })}
              />
            </label>
            <button className="act-quiet" onClick={() => set({ logo: undefined })}>
              No logo
            </button>
          </>
        )}
      </div>
    </Part>
  );
}

function Senders({ senders, onChange }: { senders: readonly Sender[]; onChange: (senders: Sender[]) => void }) {
  const put = (at: number, next: Partial<Sender>): void =>
    onChange(senders.map((one, index) => (index === at ? { ...one, ...next } : one)));
  return (
    <Part id="senders" title="Senders" note="Whom chat messages come from: picked in a message, kept here.">
      {senders.map((sender, at) => (
        <div key={at} className="flex flex-wrap items-center gap-2" role="group" aria-label={`Sender ${at + 1}`}>
          <Phrase
            label={`Picture of sender ${at + 1}`}
            words={sender.picture ? <img src={sender.picture} alt="" className="inline h-8 w-8 rounded-full object-cover" /> : 'no picture'}
          >
            {(close) => (
              <PicturePicker
                chosen={sender.picture ?? ''}
                onPick={({ url }) => {
                  put(at, { picture: url });
                  close();
                }}
              />
            )}
          </Phrase>
          <input
            aria-label={`Name of sender ${at + 1}`}
            className="field w-44"
            value={sender.name}
            maxLength={80}
            onChange={({ target }) => put(at, { name: target.value })}
          />
          <input
            aria-label={`Role of sender ${at + 1}`}
            className="field w-52 min-w-0"
            placeholder="Role, such as Customer service"
            value={sender.role ?? ''}
            maxLength={80}
            onChange={({ target }) => put(at, { role: target.value || undefined })}
          />
          <TakeOut label={`Take out sender ${at + 1}`} onClick={() => onChange(senders.filter((_, index) => index !== at))} />
        </div>
      ))}
      {senders.length < 30 && <Add onClick={() => onChange([...senders, { name: 'Our team' }])}>Add a sender</Add>}
    </Part>
  );
}

function Values({
  values,
  stored,
  uses,
  onChange,
}: {
  values: readonly SiteValue[];
  stored: readonly SiteValue[];
  uses: Readonly<Record<string, readonly string[]>>;
  onChange: (values: SiteValue[]) => void;
}) {
  const put = (at: number, next: Partial<SiteValue>): void =>
    onChange(values.map((one, index) => (index === at ? { ...one, ...next } : one)));
  const keys = new Set(values.map(({ name }) => keyOf(name)));
  const gone = stored.filter(({ name }) => !keys.has(keyOf(name)) && (uses[keyOf(name)]?.length ?? 0) > 0);
  return (
    <Part
      id="values"
      title="Values"
      note="A phone number, an offer’s code, a link: named in many messages, changed here. Write {site phone} for the one named phone."
    >
      {values.map(({ name, text }, at) => {
        const used = uses[keyOf(name)] ?? [];
        return (
          <div key={at} className="flex flex-wrap items-center gap-2" role="group" aria-label={`Value ${at + 1}`}>
            <span className="text-soft" aria-hidden="true">
              {'{site'}
            </span>
            <input
              aria-label={`Name of value ${at + 1}`}
              className="field w-40 font-mono text-[13px]"
              value={name}
              maxLength={60}
              onChange={({ target }) => put(at, { name: target.value })}
            />
            <span className="text-soft" aria-hidden="true">
              {'} stands for'}
            </span>
            <input
              aria-label={`Text of value ${at + 1}`}
              className="field min-w-0 flex-1 basis-52"
              value={text}
              maxLength={500}
              onChange={({ target }) => put(at, { text: target.value })}
            />
            <span className="w-32 text-soft" title={used.join(', ')}>
              {used.length === 0 ? 'not used yet' : used.length === 1 ? 'in 1 campaign' : `in ${used.length} campaigns`}
            </span>
            <TakeOut label={`Take out value ${at + 1}`} onClick={() => onChange(values.filter((_, index) => index !== at))} />
          </div>
        );
      })}
      {gone.map(({ name }) => (
        <p key={name} className="text-danger">
          {'{site '}
          {name}
          {'}'} is named in {uses[keyOf(name)]?.join(', ')}: without it, and with nothing to say instead, they cannot be published.
        </p>
      ))}
      {values.length < 200 && <Add onClick={() => onChange([...values, { name: '', text: '' }])}>Add a value</Add>}
    </Part>
  );
}

function Add({ onClick, children }: { onClick: () => void; children: ReactNode }) {
  return (
    <button className="act-quiet inline-flex w-fit items-center gap-1" onClick={onClick}>
      <Plus size={14} aria-hidden="true" /> {children}
    </button>
  );
}

function TakeOut({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <button aria-label={label} className="rounded p-1 text-soft hover:text-ink" onClick={onClick}>
      <X size={16} aria-hidden="true" />
    </button>
  );
}
