'use client';

import { Plus, X } from 'lucide-react';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { withCopy } from '@/core/flows/edit';
import { messageOf, MOST_MESSAGES } from '@/core/flows/flow';
import { unusedName } from '../parts/saving/unusedName';
import { Choice, NumberField } from '../rule/fields';
import { HowLong } from './HowLong';

interface Part {
  readonly name: string;
  readonly start: string;
  readonly share: number;
}

/** How a hundred of those who meet the moment are dealt out: to versions of the message, and to those who see nothing. */
export function DealBar({
  id,
  campaign,
  onChange,
}: {
  id: string;
  campaign: CampaignDocument;
  onChange: (campaign: CampaignDocument) => void;
}) {
  const { holdout = 0, variants, flow } = campaign;
  const nothing = Math.round(holdout * 100);
  const parts = partsOf(campaign);
  const ids = flow.messages.map(({ id }) => id);
  const setNothing = (share: number): void => onChange({ ...campaign, holdout: share === 0 ? undefined : share / 100 });
  const setVariants = (next: readonly Part[]): void =>
    onChange({
      ...campaign,
      variants: next.length < 2 ? undefined : weighed(next),
    });
  /** What one gains its neighbour loses. */
  const shift = (index: number, by: number): void => {
    const [one, other] = [parts[index], parts[index + 1]];
    if (!one) return;
    if (!other) return setNothing(Math.max(0, Math.min(90, nothing - by)));
    const moved = Math.max(1 - one.share, Math.min(other.share - 1, by));
    setVariants(
      parts.map((part, at) =>
        at === index ? { ...part, share: part.share + moved } : at === index + 1 ? { ...part, share: part.share - moved } : part,
      ),
    );
  };
  return (
    <section aria-label="Who gets what" className="sheet grid gap-2 px-4 py-3">
      <div className="flex items-center gap-3">
        <span className="shrink-0 text-soft">Of 100 who meet its moment</span>
        <div className="flex h-7 min-w-0 flex-1 gap-[3px]">
          {parts.map(({ name, share }, index) => (
            <div
              key={index}
              className="relative flex items-center overflow-hidden bg-line px-2 text-xs font-semibold"
              style={{ flexGrow: share, flexBasis: 0 }}
            >
              <span className="truncate">
                {share} · {name}
              </span>
              {(index < parts.length - 1 || nothing > 0) && <Border name={name} share={share} onShift={(by) => shift(index, by)} />}
            </div>
          ))}
          {nothing > 0 && (
            <div
              className="flex items-center overflow-hidden px-2 text-xs font-semibold text-soft outline-dashed outline-1 -outline-offset-1 outline-edge"
              style={{ flexGrow: nothing, flexBasis: 0 }}
            >
              <span className="truncate">{nothing} · see nothing</span>
            </div>
          )}
        </div>
        <label className="flex shrink-0 items-center gap-2 text-soft">
          see nothing
          <NumberField
            label="Of 100, how many see nothing"
            value={nothing}
            min={0}
            max={90}
            width={52}
            onChange={(share) => setNothing(Math.round(share))}
          />
        </label>
        {(variants?.length ?? 1) < 6 && (
          <button
            className="act-quiet shrink-0"
            disabled={flow.messages.length >= MOST_MESSAGES}
            title={flow.messages.length >= MOST_MESSAGES ? `A campaign has at most ${MOST_MESSAGES} messages` : undefined}
            onClick={() => onChange(withVariant(campaign))}
          >
            <Plus size={14} aria-hidden="true" /> Add a variant
          </button>
        )}
      </div>
      {(variants || nothing > 0) && <HowLong id={id} campaign={campaign} />}
      {variants && (
        <ul className="flex flex-wrap gap-x-6 gap-y-2">
          {parts.map((part, index) => (
            <li key={index} className="flex items-center gap-2">
              <input
                aria-label={`Name of variant ${index + 1}`}
                className="field w-36"
                value={part.name}
                maxLength={100}
                onChange={({ target }) => setVariants(parts.with(index, { ...part, name: target.value }))}
              />
              begins at
              <Choice
                label={`Where variant ${index + 1} begins`}
                value={part.start}
                options={ids.map((id) => [id, id] as const)}
                onChange={(start) => setVariants(parts.with(index, { ...part, start }))}
              />
              <button
                aria-label={`Take variant ${index + 1} out`}
                className="rounded p-1.5 text-soft hover:text-danger"
                onClick={() => setVariants(parts.toSpliced(index, 1))}
              >
                <X size={14} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

const weighed = (parts: readonly Part[]): CampaignDocument['variants'] =>
  parts.map(({ name, start, share }) => ({ name, start, weight: Math.max(1, share) }));

/** Shares of those who see anything, of a hundred less those who see nothing. */
export function partsOf({ holdout = 0, variants, flow }: Pick<CampaignDocument, 'holdout' | 'variants' | 'flow'>): Part[] {
  const all = 100 - Math.round(holdout * 100);
  if (!variants) return [{ name: flow.start, start: flow.start, share: all }];
  const sum = variants.reduce((so, { weight }) => so + weight, 0);
  const shares = variants.map(({ weight }) => Math.round((all * weight) / sum));
  // What rounding took or gave, the last one has.
  const rest = all - shares.reduce((so, share) => so + share, 0);
  return variants.map(({ name, start }, index) => ({
    name,
    start,
    share: (shares[index] ?? 0) + (index === variants.length - 1 ? rest : 0),
  }));
}

/** One more, which begins with a copy of the largest's message, to be written otherwise, and has half of its share. The same campaign where there is no room for a message. */
export function withVariant(campaign: CampaignDocument): CampaignDocument {
  const parts = partsOf(campaign);
  const largest = parts.reduce((most, part) => (part.share > most.share ? part : most));
  const half = Math.floor(largest.share / 2);
  const first = messageOf(campaign.flow, largest.start);
  if (!first || half < 1) return campaign;
  const { flow, id } = withCopy(campaign.flow, first);
  if (flow === campaign.flow) return campaign;
  const name = unusedName(
    id,
    parts.map((part) => part.name),
  );
  const next = [
    ...parts.map((part) => (part === largest ? { ...part, share: part.share - half } : part)),
    { name, start: id, share: half },
  ];
  return { ...campaign, flow, variants: weighed(next) };
}

/** Between two shares: dragged, or moved by the arrow keys. */
function Border({ name, share, onShift }: { name: string; share: number; onShift: (by: number) => void }) {
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Share of ${name}`}
      aria-valuenow={share}
      aria-valuemin={1}
      aria-valuemax={100}
      className="absolute inset-y-0 end-0 w-2 cursor-col-resize touch-none bg-edge/40 hover:bg-pine"
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        onShift(by);
      }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const { left, right } = (event.currentTarget.parentElement as HTMLElement).getBoundingClientRect();
        const perPoint = (right - left) / Math.max(1, share);
        const by = Math.round((event.clientX - right) / perPoint);
        if (by !== 0) onShift(by);
      }}
    />
  );
}
