'use client';

import Link from 'next/link';
import { useState } from 'react';
import type { Overlap } from './SegmentOverlap';
import { useOverlap } from './SegmentOverlap';

const MOST = 19;

/** Which share of each segment (a row) is in each other one (a column) too. */
export function OverlapMatrix({ segments }: { segments: readonly { readonly id: string; readonly name: string }[] }) {
  const [left, setLeft] = useState<readonly string[]>(segments.slice(MOST).map(({ id }) => id));
  const chosen = segments.filter(({ id }) => !left.includes(id));
  const { data, error } = useOverlap({ segments: chosen.map(({ id }) => id) }, chosen.length > 0);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-[minmax(0,1fr)_240px]">
      <div className="sheet relative min-w-0 overflow-x-auto p-4">
        {error && (
          <p role="alert" className="text-danger">
            {error.message}
          </p>
        )}
        {!data && !error && <div className="skeleton h-96" role="status" aria-label="Comparing" />}
        {data && <Matrix {...data} />}
      </div>
      <fieldset className="sheet self-start p-4">
        <legend className="sr-only">Segments to compare</legend>
        <p className="mb-2 font-bold">Compared</p>
        {segments.map(({ id, name }) => {
          const isIn = !left.includes(id);
          return (
            <label key={id} className="flex items-baseline gap-2 py-0.5">
              <input
                type="checkbox"
                checked={isIn}
                disabled={!isIn && chosen.length >= MOST}
                onChange={() => setLeft(isIn ? [...left, id] : left.filter((one) => one !== id))}
              />
              <span className="min-w-0 truncate">{name}</span>
            </label>
          );
        })}
        {chosen.length >= MOST && <p className="mt-2 text-soft">At most {MOST} at once.</p>}
      </fieldset>
    </div>
  );
}

function Matrix({ segments, both }: Overlap) {
  const size = (index: number): number => both[index]?.[index] ?? 0;
  return (
    <table className="border-separate border-spacing-0.5 text-[13px]">
      <caption className="mb-2 text-left text-soft">Of the people in a row, the share that is in the column too</caption>
      <thead>
        <tr>
          <th scope="col" className="text-left font-semibold">
            Segment
          </th>
          <th scope="col" className="px-2 text-right font-semibold">
            People
          </th>
          {segments.map(({ id, name }, column) => (
            <th key={id} scope="col" className="w-12 font-normal" title={name}>
              <span aria-hidden="true">{column + 1}</span>
              <span className="sr-only">{name}</span>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {segments.map(({ id, name }, row) => (
          <tr key={id}>
            <th scope="row" className="max-w-64 truncate pr-2 text-left font-semibold">
              <span className="mr-2 inline-block w-5 text-right font-normal text-soft">{row + 1}</span>
              <Link className="hover:underline" href={`/segments/${id}`} data-row>
                {name}
              </Link>
            </th>
            <td className="px-2 text-right">{size(row).toLocaleString('en-GB')}</td>
            {segments.map(({ id: other, name: otherName }, column) => {
              const count = both[row]?.[column] ?? 0;
              const share = size(row) ? count / size(row) : 0;
              return (
                <td
                  key={other}
                  className="h-8 w-12 text-center"
                  title={
                    row === column
                      ? name
                      : `${count.toLocaleString('en-GB')} of the ${size(row).toLocaleString('en-GB')} in ${name} are in ${otherName}`
                  }
                  style={
                    row === column
                      ? undefined
                      : { background: `color-mix(in srgb, var(--people) ${Math.round(share * 45)}%, var(--paper))` }
                  }
                >
                  {row === column ? <span className="text-soft">·</span> : size(row) ? `${Math.round(share * 100)} %` : '–'}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
