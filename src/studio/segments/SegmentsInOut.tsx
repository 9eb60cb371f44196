'use client';

import { useState } from 'react';
import { addressOf } from '../parts/net/call';
import { BringIn } from '../parts/layout/BringIn';

/** All segments as JSON, out and in. */
export function SegmentsInOut({ hasSome }: { hasSome: boolean }) {
  const [error, setError] = useState<string>();
  return (
    <>
      {error && (
        <p role="alert" className="max-w-xl text-danger">
          {error}
        </p>
      )}
      <BringIn
        label="Bring in JSON"
        accept=".json,application/json"
        api="POST /api/segments/import"
        words={({ segments: { length } }) => (length === 1 ? '1 segment brought in' : `${length} segments brought in`)}
        onError={setError}
      />
      {hasSome && (
        <a className="act-quiet" href={addressOf('GET /segments.json')} download>
          Take out JSON
        </a>
      )}
    </>
  );
}
