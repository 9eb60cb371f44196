'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import { Ago } from '../parts/layout/Ago';
import { Empty } from '../parts/layout/Empty';
import { openOnSite } from '../tryout/openOnSite';

export interface TeamBrowserLine {
  readonly id: number;
  readonly device: string | null;
  readonly visits: number;
  /** UTC ms. */
  readonly at: number;
}

/** Browsers of the team's own, told apart from visitors' by everything that asks who is of the team. */
export function TeamBrowsers({ list }: { list: readonly TeamBrowserLine[] }) {
  const router = useRouter();
  async function leave(id: number): Promise<void> {
    const result = await call('DELETE /api/team/{id}', { params: { id } });
    if (!result.ok) toast.error(result.message);
    router.refresh();
  }
  async function add(): Promise<void> {
    const opened = await openOnSite({ page: '/' });
    if (!opened.ok) toast.error(opened.message);
  }
  async function makeSegment(): Promise<void> {
    const made = await call('POST /api/segments', {
      body: {
        name: 'Our team',
        lookback: 540,
        people: { kind: 'team', is: true },
      },
    });
    if (made.ok) router.push(`/segments/${made.value.id}`);
    else toast.error(made.message);
  }
  const how = (
    <>
      Open the site in a try-out with the browser that is to be one of ours, and say there, under “This browser itself”, that it is. Rules
      and segments then ask whether somebody is of the team.
    </>
  );
  const acts = (
    <div className="flex flex-wrap gap-2">
      <button className="act" onClick={() => void add()}>
        Open the site with this browser
      </button>
      <button className="act-quiet" onClick={() => void makeSegment()}>
        Make a segment of our team
      </button>
    </div>
  );
  if (list.length === 0)
    return (
      <Empty title="No browser is said to be one of ours." action={acts}>
        {how}
      </Empty>
    );
  return (
    <div className="grid max-w-4xl gap-4">
      <p className="text-soft">{how}</p>
      {acts}
      <table className="sheet w-full text-start">
        <thead>
          <tr className="text-soft">
            <th className="p-2 text-start font-semibold">Browser</th>
            <th className="p-2 text-start font-semibold">Visits</th>
            <th className="p-2 text-start font-semibold">Last heard of</th>
            <th>
              <span className="sr-only">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {list.map(({ id, device, visits, at }) => (
            <tr key={id} className="border-t border-line">
              <td className="p-2">
                <Link className="underline" href={`/visitors/${id}`}>
                  {device || `Visitor ${id}`}
                </Link>
              </td>
              <td className="p-2">{visits}</td>
              <td className="p-2">
                <Ago at={at} />
              </td>
              <td className="p-2 text-end">
                <button className="act-quiet" aria-label={`Not one of ours: ${device || `visitor ${id}`}`} onClick={() => void leave(id)}>
                  Not one of ours
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
