'use client';

import Link from 'next/link';
import { useState } from 'react';
import type { PlaceShape } from '@/core/geo/place';
import type { InPlace } from '@/server/map/visitors';
import { addressOf } from '../parts/net/call';
import { BringIn } from '../parts/layout/BringIn';
import { Empty } from '../parts/layout/Empty';
import { NewButton } from '../parts/layout/NewButton';
import { unusedName } from '../parts/saving/unusedName';
import { SetupHead } from '../setup/SetupHead';
import { exactnessWarning, shapeWords } from './words';

interface ListedPlace extends InPlace {
  readonly id: string;
  readonly name: string;
  readonly shape: PlaceShape;
  readonly changedAt: number;
}

/** A circle to begin with, in the middle of Europe; the map opens on it. */
const START: PlaceShape = { type: 'Circle', center: [11.4, 47.27], radius: 30_000 };

export function PlaceList({ places }: { places: readonly ListedPlace[] }) {
  const [error, setError] = useState<string>();
  const make = (
    <NewButton
      label="New place"
      api="POST /api/places"
      href="/setup/places"
      body={{
        name: unusedName(
          'New place',
          places.map(({ name }) => name),
        ),
        shape: START,
      }}
    />
  );
  return (
    <div className="p-6">
      <SetupHead>
        <BringIn
          label="Bring in GeoJSON"
          accept=".geojson,.json,application/geo+json,application/json"
          api="POST /api/places/import"
          words={({ places: { length } }) => (length === 1 ? '1 place brought in' : `${length} places brought in`)}
          onError={setError}
        />
        {places.length > 0 && (
          <a className="act-quiet" href={addressOf('GET /places.geojson')} download>
            Take out GeoJSON
          </a>
        )}
        {make}
      </SetupHead>
      {error && (
        <p role="alert" className="mb-3 text-danger">
          {error}
        </p>
      )}
      {places.length === 0 ? (
        <Empty title="No places yet" action={make}>
          A place is an area that you draw on the map, such as <em>within 40 km of a town</em>. Rules name it to reach who is there.
        </Empty>
      ) : (
        <div className="sheet">
          <table className="list">
            <thead>
              <tr>
                <th>Place</th>
                <th>Shape</th>
                <th className="number">Visitors in 30 days</th>
                <th>Changed</th>
              </tr>
            </thead>
            <tbody>
              {places.map(({ id, name, shape, changedAt, ...counted }) => {
                const warning = exactnessWarning(shape, counted.accuracy);
                return (
                  <tr key={id} className="hover:bg-bone">
                    <td>
                      <Link data-row className="text-base font-semibold hover:underline" href={`/setup/places/${id}`}>
                        {name}
                      </Link>
                    </td>
                    <td>
                      {shapeWords(shape)}
                      {warning && <span className="block text-moment">{warning}</span>}
                    </td>
                    <td className="number">
                      {counted.inside.toLocaleString('en-GB')}
                      <span className="block text-xs text-soft">of {counted.located.toLocaleString('en-GB')} located</span>
                    </td>
                    <td className="whitespace-nowrap text-soft">
                      {new Date(changedAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}
