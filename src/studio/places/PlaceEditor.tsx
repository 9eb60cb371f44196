'use client';

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { z } from 'zod';
import { fromGeoJson, toGeoJson } from '@/core/geo/geojson';
import type { PlaceShape } from '@/core/geo/place';
import { placeShapeSchema } from '@/core/geo/place';
import { issueWords } from '@/core/parsing/parse';
import { nameSchema } from '@/core/rules/schema';
import type { FoundTown } from '@/server/map/towns';
import type { User } from '@/server/segments/users';
import { addressOf, fetched } from '../parts/net/call';
import { EditorHead } from '../parts/saving/EditorHead';
import { UsedBy } from '../parts/layout/UsedBy';
import { useSaved } from '../parts/saving/useSaved';
import { useSettled } from '../parts/saving/useSettled';
import { NumberField } from '../rule/fields';
import { exactnessWarning, shapeWords } from './words';
import { useMay } from '../parts/layout/Editing';

// The map is heavy and needs a window: it comes with this screen only.
const PlaceMap = dynamic(() => import('./PlaceMap').then((part) => part.PlaceMap), {
  ssr: false,
  loading: () => <div className="skeleton h-full" role="status" aria-label="Loading the map" />,
});

const draftSchema = z.object({ name: nameSchema, shape: placeShapeSchema });
type Draft = z.infer<typeof draftSchema>;
const SETTLE_MS = 150;

/** A place: drawn on the map, or by town and radius, or as GeoJSON; beside it who is there. */
export function PlaceEditor({ id, initial, revision, users }: { id: string; initial: Draft; revision: number; users: readonly User[] }) {
  const saved = useSaved({
    initial,
    revision,
    schema: draftSchema,
    kind: 'place',
    id,
  });
  const { draft, setDraft, isReady } = saved;
  const setShape = (shape: PlaceShape): void => setDraft({ ...draft, shape });
  const asked = useSettled(draft.shape, SETTLE_MS);
  const counted = useQuery({
    queryKey: ['in place', asked],
    enabled: isReady,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => fetched('POST /api/places/count', { body: { shape: asked }, signal }),
  });
  const warning = exactnessWarning(draft.shape, counted.data?.accuracy ?? null);
  const mayEdit = useMay('edit');
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
      <EditorHead
        saved={saved}
        more={
          <a className="act-quiet" href={addressOf('GET /places.geojson', { query: { id } })} download>
            Take out GeoJSON
          </a>
        }
      />
      <UsedBy users={users} />
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_320px]">
        <div className="sheet h-[520px] overflow-hidden">
          <PlaceMap shape={draft.shape} onChange={(shape) => mayEdit && setShape(shape)} />
        </div>
        <div className="grid content-start gap-4">
          <section className="sheet p-5" aria-label="Who is there" aria-live="polite">
            {counted.error && (
              <p role="alert" className="text-danger">
                {counted.error.message}
              </p>
            )}
            {!counted.data && !counted.error && <div className="skeleton h-16" role="status" aria-label="Counting" />}
            {counted.data && (
              <>
                <p>
                  <b className="font-display text-3xl">{counted.data.inside.toLocaleString('en-GB')}</b> visitors of the last 30 days
                </p>
                <p className="text-soft">of {counted.data.located.toLocaleString('en-GB')} whose location is known</p>
              </>
            )}
            <p className="mt-2">It is {shapeWords(draft.shape)}.</p>
            {warning && <p className="mt-2 border-l-2 border-moment pl-3">{warning}</p>}
          </section>
          <AroundTown shape={draft.shape} onChange={setShape} />
          <AsText key={JSON.stringify(draft.shape)} shape={draft.shape} onChange={setShape} />
        </div>
      </div>
    </div>
  );
}

/** A circle around a town, without touching the map. */
function AroundTown({ shape, onChange }: { shape: PlaceShape; onChange: (shape: PlaceShape) => void }) {
  const [text, setText] = useState('');
  const asked = useSettled(text.trim(), SETTLE_MS);
  const radius = shape.type === 'Circle' ? shape.radius : 30_000;
  const { data = [] } = useQuery({
    queryKey: ['towns', asked],
    enabled: asked !== '',
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => fetched('GET /api/map/towns', { query: { text: asked }, signal }),
  });
  return (
    <section className="sheet grid gap-3 p-5" aria-label="A circle around a town">
      <h2 className="font-bold">Around a town</h2>
      <Combobox<FoundTown | null>
        value={null}
        onChange={(town) => {
          if (!town) return;
          setText('');
          onChange({ type: 'Circle', center: [town.lon, town.lat], radius });
        }}
      >
        <ComboboxInput
          data-filter
          aria-label="Town"
          className="field w-full"
          placeholder="A town"
          autoComplete="off"
          maxLength={100}
          displayValue={() => text}
          onChange={(event) => setText(event.target.value)}
        />
        <ComboboxOptions anchor={{ to: 'bottom start', gap: 4 }} className="z-[1200] w-72 sheet p-1 shadow-lg empty:invisible">
          {(asked === '' ? [] : data).map((town) => (
            <ComboboxOption
              key={`${town.name} ${town.lat} ${town.lon} ${asked}`}
              value={town}
              className="flex cursor-pointer items-baseline gap-2 rounded px-3 py-1 data-focus:bg-bone"
            >
              <span className="truncate">{town.name}</span>
              <span className="ml-auto text-xs text-soft">
                {town.country}, {town.population.toLocaleString('en-GB')} people
              </span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
      {shape.type === 'Circle' && (
        <label className="flex items-center gap-2">
          within{' '}
          <NumberField
            label="Radius in kilometres"
            value={shape.radius / 1000}
            min={0.05}
            max={5000}
            onChange={(km) => onChange({ ...shape, radius: Math.round(km * 1000) })}
          />{' '}
          km
        </label>
      )}
    </section>
  );
}

/** The shape as GeoJSON, to read, paste and type. */
function AsText({ shape, onChange }: { shape: PlaceShape; onChange: (shape: PlaceShape) => void }) {
  const [text, setText] = useState(() =>
    JSON.stringify((toGeoJson([{ name: 'place', shape }]) as { features: unknown[] }).features[0], null, 1),
  );
  const [error, setError] = useState<string>();
  function apply(): void {
    let input: unknown;
    try {
      input = JSON.parse(text);
    } catch (cause) {
      return setError(`No JSON: ${cause instanceof Error ? cause.message : 'unreadable'}`);
    }
    const parsed = fromGeoJson(input);
    if (!parsed.ok) return setError(parsed.issues.slice(0, 3).map(issueWords).join('; '));
    const [first, second] = parsed.value;
    if (!first || second) return setError(`Expected one feature, met ${parsed.value.length}`);
    setError(undefined);
    onChange(first.shape);
  }
  return (
    <details className="sheet p-5">
      <summary className="cursor-pointer font-bold">As GeoJSON</summary>
      <textarea
        aria-label="The shape as GeoJSON"
        className="field mt-3 w-full font-mono text-xs"
        rows={10}
        value={text}
        aria-invalid={error !== undefined}
        onChange={(event) => setText(event.target.value)}
      />
      <p role="alert" className="my-2 text-danger">
        {error}
      </p>
      <button className="act-quiet" onClick={apply}>
        Use this shape
      </button>
    </details>
  );
}
