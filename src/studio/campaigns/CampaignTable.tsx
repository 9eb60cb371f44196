'use client';

import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ChevronDown, ChevronUp, GripVertical } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { Fragment, useState } from 'react';
import { toast } from 'sonner';
import type { Budget } from '@/core/pacing/pacing';
import type { PortfolioReport, Share } from '@/core/rehearsal/portfolio';
import type { Phrase } from '@/core/rules/describe';
import { call } from '../parts/net/call';
import { Counting } from '../parts/layout/Counting';
import { RowMenu } from '../parts/layout/RowMenu';
import { useRemove } from '../parts/saving/useRemove';
import { Sentence } from '../parts/layout/Sentence';
import { BudgetForm } from './BudgetForm';
import { Pick } from '../messages/Pick';
import { ShareCell } from './ShareCell';
import { usePortfolio } from './usePortfolio';
import { useMay } from '../parts/layout/Editing';

export interface ListedCampaign {
  readonly id: string;
  readonly name: string;
  /** Name of the purpose that it is one form of. */
  readonly purpose: string | undefined;
  readonly state: string;
  readonly isOn: boolean;
  readonly sentence: readonly Phrase[];
  readonly shown: number;
  readonly converted: number;
}

interface OtherSite {
  readonly id: number;
  readonly name: string;
}

/** In a menu. */
const MOST_SITES = 8;

/** All campaigns in the order in which they decide, to be dragged or moved by keys; beside each what the order and the budget leave it. */
export function CampaignTable({
  campaigns: listed,
  budget: savedBudget,
  last,
  elsewhere,
}: {
  campaigns: readonly ListedCampaign[];
  budget: Budget;
  /** What was rehearsed last, shown until it has been rehearsed anew. */
  last: PortfolioReport | undefined;
  /** Other sites of whoever looks, where they may edit. */
  elsewhere: readonly OtherSite[];
}) {
  const router = useRouter();
  const [order, setOrder] = useState(() => listed.map(({ id }) => id));
  const [budget, setBudget] = useState(savedBudget);
  // Whatever came or went elsewhere takes its place from the server.
  const known = listed.map(({ id }) => id);
  const isSame = known.length === order.length && known.every((id) => order.includes(id));
  const shownOrder = isSame ? order : known;
  const [isGrouped, setGrouped] = useState(false);
  const groups = isGrouped ? byPurpose(listed, shownOrder) : [{ name: undefined, ids: shownOrder }];
  const { report: fresh, isRunning, error } = usePortfolio(shownOrder, budget);
  const report = fresh ?? last;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const most = Math.max(1, ...(report?.shares ?? []).map(({ alone, together }) => alone ?? together));

  async function moveTo(next: string[]): Promise<void> {
    setOrder(next);
    const result = await call('PUT /api/campaigns/order', { body: { campaigns: next } });
    if (!result.ok) {
      setOrder(shownOrder);
      toast.error(result.message);
    }
    router.refresh();
  }
  const nameOf = (id: string | number): string => listed.find((one) => one.id === id)?.name ?? 'a campaign';
  return (
    <>
      {listed.some(({ purpose }) => purpose !== undefined) && (
        <div className="mb-3">
          <Pick
            label="Listed"
            value={isGrouped ? 'purpose' : 'order'}
            options={['order', 'purpose']}
            words={{ order: 'in their order', purpose: 'by purpose' }}
            onChange={(how) => setGrouped(how === 'purpose')}
          />
        </div>
      )}
      <div className="sheet">
        <DndContext
          id="campaign-order"
          sensors={sensors}
          collisionDetection={closestCenter}
          accessibility={{
            announcements: {
              onDragStart: ({ active }) => `${nameOf(active.id)} is taken up`,
              onDragOver: ({ active, over }) =>
                over ? `${nameOf(active.id)} is now number ${shownOrder.indexOf(String(over.id)) + 1}` : undefined,
              onDragEnd: ({ active, over }) =>
                over
                  ? `${nameOf(active.id)} is put down as number ${shownOrder.indexOf(String(over.id)) + 1}`
                  : `${nameOf(active.id)} is put back`,
              onDragCancel: ({ active }) => `${nameOf(active.id)} is put back`,
            },
          }}
          onDragEnd={({ active, over }) => {
            if (!over || active.id === over.id) return;
            void moveTo(arrayMove([...shownOrder], shownOrder.indexOf(String(active.id)), shownOrder.indexOf(String(over.id))));
          }}
        >
          <table className="list">
            <thead>
              <tr>
                <th>Campaign</th>
                <th>State</th>
                <th className="number">Shown</th>
                <th className="number">Converted</th>
                <th>
                  Rehearsed together
                  {isRunning && fresh && (
                    <span className="ml-2 font-normal text-soft" role="status">
                      {fresh.done} of {fresh.runs}
                    </span>
                  )}
                </th>
                <th>
                  <span className="sr-only">Actions</span>
                </th>
              </tr>
            </thead>
            <tbody>
              <SortableContext items={[...shownOrder]} strategy={verticalListSortingStrategy} disabled={isGrouped}>
                {groups.map(({ name, ids }) => (
                  <Fragment key={name ?? ''}>
                    {isGrouped && (
                      <tr>
                        <th colSpan={6} scope="rowgroup" className="pt-4! text-start font-display text-base text-ink">
                          {name ?? 'Of their own'}
                        </th>
                      </tr>
                    )}
                    {ids.map((id) => {
                      const index = shownOrder.indexOf(id);
                      const campaign = listed.find((one) => one.id === id);
                      return (
                        campaign && (
                          <Row
                            key={id}
                            campaign={campaign}
                            isGrouped={isGrouped}
                            isFirst={index === 0}
                            isLast={index === shownOrder.length - 1}
                            onMove={(by) => void moveTo(arrayMove([...shownOrder], index, index + by))}
                            share={campaign.isOn ? (report?.shares.find((one) => one.campaign === id) ?? (fresh ? null : undefined)) : null}
                            isAsLast={!fresh}
                            most={most}
                            elsewhere={elsewhere}
                          />
                        )
                      );
                    })}
                  </Fragment>
                ))}
              </SortableContext>
            </tbody>
          </table>
        </DndContext>
      </div>
      {error && (
        <p role="alert" className="mt-2 text-danger">
          {error}
        </p>
      )}
      <BudgetForm value={budget} onChange={setBudget} />
      {report && (
        <p className="mt-2 text-soft" aria-live="polite">
          Over the recorded visits of the last 30 days, all together would have shown {report.showings.toLocaleString('en-GB')} times, in{' '}
          {report.visits.toLocaleString('en-GB')} of {report.of.toLocaleString('en-GB')} visits.
        </p>
      )}
    </>
  );
}

/** Those of each purpose together, in their order; those of none come last. */
function byPurpose(listed: readonly ListedCampaign[], order: readonly string[]): { name: string | undefined; ids: string[] }[] {
  const groups = new Map<string | undefined, string[]>();
  for (const id of order) {
    const purpose = listed.find((one) => one.id === id)?.purpose;
    groups.set(purpose, [...(groups.get(purpose) ?? []), id]);
  }
  return [...groups].map(([name, ids]) => ({ name, ids })).sort((a, b) => Number(a.name === undefined) - Number(b.name === undefined));
}

function Row({
  campaign: { id, name, purpose, state, isOn, sentence, shown, converted },
  isGrouped,
  isFirst,
  isLast,
  onMove,
  share,
  isAsLast,
  most,
  elsewhere,
}: {
  campaign: ListedCampaign;
  /** Listed under its purpose, where it cannot be moved. */
  isGrouped: boolean;
  isFirst: boolean;
  isLast: boolean;
  onMove: (by: 1 | -1) => void;
  /** Null for a campaign that is not switched on; undefined until it is rehearsed. */
  share: Share | null | undefined;
  /** The share is what was rehearsed last. */
  isAsLast: boolean;
  most: number;
  elsewhere: readonly OtherSite[];
}) {
  const mayEdit = useMay('edit');
  const remove = useRemove();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  return (
    <tr
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={isDragging ? 'relative z-10 bg-paper shadow-lg' : 'hover:bg-bone'}
    >
      <td className="max-w-3xl">
        <div className="flex">
          {!isGrouped && mayEdit && (
            <span className="mr-2 inline-flex items-start">
              <button
                ref={setActivatorNodeRef}
                {...attributes}
                {...listeners}
                aria-label={`Drag ${name}`}
                className="cursor-grab touch-none p-0.5 pt-2 text-soft hover:text-ink"
              >
                <GripVertical size={16} aria-hidden="true" />
              </button>
              <span className="inline-flex flex-col">
                {([-1, 1] as const).map((by) => (
                  <button
                    key={by}
                    className="text-soft hover:text-ink disabled:opacity-30"
                    aria-label={`Move ${name} ${by < 0 ? 'up' : 'down'}`}
                    disabled={by < 0 ? isFirst : isLast}
                    onClick={() => onMove(by)}
                  >
                    {by < 0 ? <ChevronUp size={16} aria-hidden="true" /> : <ChevronDown size={16} aria-hidden="true" />}
                  </button>
                ))}
              </span>
            </span>
          )}
          <span className="min-w-0">
            <Link data-row className="text-base font-semibold hover:underline" href={`/campaigns/${id}`}>
              {name}
            </Link>
            {purpose !== undefined && !isGrouped && <span className="ms-2 text-soft">one form of {purpose}</span>}
            <Sentence size="small" phrases={sentence} />
          </span>
        </div>
      </td>
      <td className="whitespace-nowrap">{state}</td>
      <td className="number">{shown.toLocaleString('en-GB')}</td>
      <td className="number">
        <b>{converted.toLocaleString('en-GB')}</b>
        {shown > 0 && <span className="block text-xs text-soft">{((100 * converted) / shown).toFixed(1)} %</span>}
      </td>
      <td>
        {share === undefined ? (
          <span className="skeleton inline-block h-8 w-40" role="status" aria-label="Rehearsing" />
        ) : (
          <Counting isLast={isAsLast}>
            <ShareCell share={share ?? undefined} most={most} />
          </Counting>
        )}
      </td>
      <td>
        <RowMenu
          name={name}
          actions={[
            { words: 'Open', does: { href: `/campaigns/${id}` } },
            {
              words: isOn ? 'Pause' : 'Switch on',
              does: { run: () => call('POST /api/campaigns/{id}', { params: { id }, body: { status: isOn ? 'paused' : 'live' } }) },
            },
            ...elsewhere.slice(0, MOST_SITES).map((site) => ({
              words: `Copy to ${site.name}`,
              does: {
                run: async () => {
                  const done = await call('POST /api/campaigns/{id}/copies/elsewhere', { params: { id }, body: { site: site.id } });
                  if (done.ok) toast.success(`“${name}” is a draft at ${site.name} now, with what it names`);
                  return done;
                },
              },
            })),
            { words: 'Make a copy', does: { run: () => call('POST /api/campaigns/{id}/copies', { params: { id } }) } },
            { words: 'Delete', does: { run: () => remove({ kind: 'campaign', id, name }) } },
          ]}
        />
      </td>
    </tr>
  );
}
