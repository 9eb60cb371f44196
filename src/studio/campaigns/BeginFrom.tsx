'use client';

import { useRouter } from 'next/navigation';
import { useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { branded } from '@/core/brand/brand';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { Phrase } from '@/core/rules/describe';
import type { StartingPoint } from '@/core/startingPoints/points';
import { call } from '../parts/net/call';
import { useBrand } from '../brand/useBrand';
import { useDrawn } from '../messages/useDrawn';
import { Sentence } from '../parts/layout/Sentence';
import { unusedName } from '../parts/saving/unusedName';
import { ForetoldWords } from './ForetoldWords';
import { useForetold } from './useForetold';

export interface PointToBegin extends StartingPoint {
  readonly sentence: readonly Phrase[];
}

/** What a campaign may begin from, the team's own first, each drawn, with what its rule would have come to here. */
export function BeginFrom({
  own,
  elsewhere,
  points,
  taken,
}: {
  own: readonly PointToBegin[];
  /** Kept at other sites of whoever looks. */
  elsewhere: readonly { readonly site: number; readonly name: string; readonly points: readonly PointToBegin[] }[];
  points: readonly PointToBegin[];
  taken: readonly string[];
}) {
  const router = useRouter();
  const [busy, setBusy] = useState<string>();
  const rules = useMemo(
    () => [...own, ...points].map(({ id, document: { rule, flow } }) => ({ id, rule, place: placeOf(startOf(flow)) })),
    [own, points],
  );
  const foretold = useForetold(rules);
  async function begin({ id, document }: StartingPoint, site?: number): Promise<void> {
    setBusy(id);
    const made =
      site === undefined
        ? await call('POST /api/campaigns', { body: { ...document, name: unusedName(document.name, taken) } })
        : await call('POST /api/starting-points/begun', { body: { site, point: id } });
    if (made.ok) return router.push(`/campaigns/${made.value.id}`);
    setBusy(undefined);
    toast.error(made.message);
  }
  async function forget({ id }: StartingPoint): Promise<void> {
    const result = await call('DELETE /api/starting-points/{id}', { params: { id } });
    if (!result.ok) toast.error(result.message);
    router.refresh();
  }
  const list = (of: readonly PointToBegin[], { isOwn = false, site }: { isOwn?: boolean; site?: number } = {}) => (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(280px,1fr))] gap-x-6 gap-y-8">
      {of.map((point) => (
        <li key={point.id} className="flex flex-col gap-2">
          <Drawing point={point} />
          <h2 className="text-lg font-bold">{point.document.name}</h2>
          <p>{point.use}</p>
          <Sentence phrases={point.sentence} size="small" />
          <div className="mt-auto flex flex-wrap items-center gap-3 pt-1">
            <button
              className="act-quiet"
              disabled={busy !== undefined}
              aria-label={`Begin with “${point.document.name}”`}
              onClick={() => void begin(point, site)}
            >
              Begin with this
            </button>
            {/* Segments of another site come along only with the campaign. */}
            {site === undefined && <ForetoldWords of={foretold.get(point.id)} />}
            {isOwn && (
              <button
                className="ms-auto text-soft underline decoration-line underline-offset-4 hover:text-ink"
                aria-label={`Take “${point.document.name}” away`}
                onClick={() => void forget(point)}
              >
                Take away
              </button>
            )}
          </div>
        </li>
      ))}
    </ul>
  );
  if (own.length === 0 && elsewhere.length === 0) return list(points);
  return (
    <div className="grid gap-8">
      {own.length > 0 && (
        <>
          <section aria-label="The team’s own">{list(own, { isOwn: true })}</section>
          <hr className="border-line" />
        </>
      )}
      <section aria-label="What ships">{list(points)}</section>
      {elsewhere.map(({ site, name, points: kept }) => (
        <section key={site} className="grid gap-4 border-t border-line pt-8" aria-labelledby={`kept-${site}`}>
          <h2 id={`kept-${site}`} className="font-bold">
            Kept at {name}
          </h2>
          {list(kept, { site })}
        </section>
      ))}
    </div>
  );
}

const ZOOM = 0.55;

/** The first of its messages, drawn as on the site, small. */
function Drawing({ point }: { point: PointToBegin }) {
  const stage = useRef<HTMLDivElement>(null);
  const { flow } = point.document;
  const brand = useBrand();
  const message = useMemo(() => branded(flow.messages.find(({ format }) => format !== 'tab') ?? startOf(flow), brand), [flow, brand]);
  useDrawn(stage, message, { zoom: ZOOM });
  return (
    <div aria-hidden="true" className="h-52 overflow-hidden rounded-sm bg-[#dde2dc]">
      <div className="origin-top-left" style={{ scale: String(ZOOM), width: `${100 / ZOOM}%`, height: `${100 / ZOOM}%` }}>
        <div ref={stage} className="grid h-full content-center p-6" />
      </div>
    </div>
  );
}
