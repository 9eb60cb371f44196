'use client';

import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import type { Block, BlockOf } from '@/core/messages/block';
import { Choice, NumberField } from '../rule/fields';
import { Address, Text, Words } from './fields';
import { OfField } from './FieldSettings';
import { PicturePicker } from '../pictures/PicturePicker';

type Change<B> = (block: B) => void;

/** Kinds of which more can be said than stands on them. */
export const hasSettings = ({ kind }: Block): boolean => kind !== 'heading' && kind !== 'text' && kind !== 'rich' && kind !== 'columns';

/** What cannot be written on the block itself. */
export function BlockSettings({ block, onChange }: { block: Block; onChange: (block: Block) => void }) {
  switch (block.kind) {
    case 'picture':
      return <OfPicture block={block} onChange={onChange} />;
    case 'buttons':
      return <OfButtons block={block} onChange={onChange} />;
    case 'choice':
      return <OfChoice block={block} onChange={onChange} />;
    case 'form':
      return <OfForm block={block} onChange={onChange} />;
    case 'countdown':
      return <OfCountdown block={block} onChange={onChange} />;
    case 'coupon':
      return (
        <Line words="Code">
          <Words label="Code" most={60} value={block.code} onChange={(code) => onChange({ ...block, code })} />
        </Line>
      );
    case 'rating':
      return (
        <>
          <Line words="Points, at most">
            <NumberField
              label="Points, at most"
              value={block.most}
              min={2}
              max={10}
              onChange={(most) => onChange({ ...block, most: Math.round(most) })}
            />
          </Line>
          <Line words="Said afterwards">
            <Words label="Said afterwards" most={300} value={block.thanks} onChange={(thanks) => onChange({ ...block, thanks })} />
          </Line>
        </>
      );
    case 'spacer':
      return (
        <Line words="Height in pixels">
          <NumberField
            label="Height"
            value={block.height}
            min={1}
            max={200}
            onChange={(height) => onChange({ ...block, height: Math.round(height) })}
          />
        </Line>
      );
    case 'heading':
    case 'text':
    case 'rich':
    case 'columns':
      return null;
  }
}

function Line({ words, children }: { words: string; children: ReactNode }) {
  return (
    <div className="flex items-center gap-2">
      <span className="w-32 shrink-0 text-soft">{words}</span>
      {children}
    </div>
  );
}

function OfPicture({ block, onChange }: { block: BlockOf<'picture'>; onChange: Change<BlockOf<'picture'>> }) {
  return (
    <>
      <PicturePicker
        chosen={block.src}
        onPick={({ url, width, height }) => {
          // As wide as a message shows it.
          const shown = Math.min(width, 800);
          onChange({ ...block, src: url, width: shown, height: Math.max(1, Math.round((height * shown) / width)) });
        }}
      />
      <Line words="or by its address">
        <Address
          label="Address of the picture"
          value={block.src}
          placeholder="/picture.jpg or https://…"
          onChange={(src) => onChange({ ...block, src })}
        />
      </Line>
      <Line words="It shows">
        <Text
          label="What the picture shows"
          value={block.alt}
          placeholder="nothing, if it only decorates"
          onChange={(alt) => onChange({ ...block, alt })}
        />
      </Line>
      <Line words="Size">
        <NumberField
          label="Width of the picture"
          value={block.width}
          min={1}
          max={4000}
          // In its proportions; the height alone sets others.
          onChange={(width) =>
            onChange({ ...block, width: Math.round(width), height: Math.max(1, Math.round((block.height * width) / block.width)) })
          }
        />
        by
        <NumberField
          label="Height of the picture"
          value={block.height}
          min={1}
          max={4000}
          onChange={(height) => onChange({ ...block, height: Math.round(height) })}
        />
      </Line>
    </>
  );
}

function OfButtons({ block, onChange }: { block: BlockOf<'buttons'>; onChange: Change<BlockOf<'buttons'>> }) {
  const { buttons } = block;
  return (
    <List
      items={buttons}
      least={1}
      most={6}
      add="Another button"
      make={() => ({ label: 'No, thank you', quiet: true, does: [{ kind: 'close' as const }] })}
      nameOf={({ label }) => label}
      onChange={(next) => onChange({ ...block, buttons: next })}
    >
      {(button, put) => (
        <>
          <span className="min-w-0 flex-1 truncate">{button.label}</span>
          <label className="inline-flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={button.quiet === true}
              onChange={({ target }) => put({ ...button, quiet: target.checked || undefined })}
            />
            quiet
          </label>
        </>
      )}
    </List>
  );
}

function OfChoice({ block, onChange }: { block: BlockOf<'choice'>; onChange: Change<BlockOf<'choice'>> }) {
  return (
    <List
      items={block.answers}
      least={2}
      most={12}
      add="Another answer"
      make={() => ({ label: 'Something else', does: [{ kind: 'close' as const }] })}
      nameOf={({ label }) => label}
      onChange={(answers) => onChange({ ...block, answers })}
    >
      {(answer) => <span className="min-w-0 flex-1 truncate">{answer.label}</span>}
    </List>
  );
}

function OfForm({ block, onChange }: { block: BlockOf<'form'>; onChange: Change<BlockOf<'form'>> }) {
  const unused = (base: string): string => {
    for (let number = 1; ; number++) {
      const name = number === 1 ? base : `${base}_${number}`;
      if (!block.fields.some((field) => field.name === name)) return name;
    }
  };
  return (
    <>
      <List
        items={block.fields}
        least={1}
        most={20}
        add="Another field"
        make={() => ({ kind: 'text' as const, name: unused('answer'), label: 'What would help?' })}
        nameOf={({ label }) => label}
        onChange={(fields) => onChange({ ...block, fields })}
      >
        {(field, put) => <OfField field={field} onChange={put} />}
      </List>
      <Line words="Said afterwards">
        <Words label="Said afterwards" most={500} value={block.thanks} onChange={(thanks) => onChange({ ...block, thanks })} />
      </Line>
    </>
  );
}
function OfCountdown({ block, onChange }: { block: BlockOf<'countdown'>; onChange: Change<BlockOf<'countdown'>> }) {
  const { until, minutes, ...rest } = block;
  return (
    <>
      <Line words="It ends">
        <Choice
          label="When it ends"
          value={until === undefined ? 'minutes' : 'until'}
          options={[
            ['minutes', 'some minutes after it is first seen'],
            ['until', 'at an instant'],
          ]}
          onChange={(how) =>
            onChange(
              how === 'minutes'
                ? { ...rest, minutes: 60 }
                : { ...rest, until: new Date(Math.ceil(Date.now() / 86_400_000) * 86_400_000).toISOString() },
            )
          }
        />
      </Line>
      {until === undefined ? (
        <Line words="Minutes">
          <NumberField
            label="Minutes"
            value={minutes ?? 60}
            min={1}
            max={43_200}
            onChange={(next) => onChange({ ...rest, minutes: next })}
          />
        </Line>
      ) : (
        <Line words="Instant">
          <input
            aria-label="Instant"
            type="datetime-local"
            className="field"
            value={localOf(until)}
            onChange={({ target }) => target.value && onChange({ ...rest, until: new Date(target.value).toISOString() })}
          />
        </Line>
      )}
      <Line words="Said when it is over">
        <Words label="Said when it is over" most={300} value={block.over} onChange={(over) => onChange({ ...block, over })} />
      </Line>
    </>
  );
}

/** As the field wants it: in the zone of whoever writes. */
function localOf(iso: string): string {
  const at = new Date(iso);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

/** Some things in an order, to add to and to take from. */
function List<T>({
  items,
  least,
  most,
  add,
  make,
  nameOf,
  onChange,
  children,
}: {
  items: readonly T[];
  least: number;
  most: number;
  add: string;
  make: () => T;
  nameOf: (item: T) => string;
  onChange: (items: T[]) => void;
  children: (item: T, put: (item: T) => void) => ReactNode;
}) {
  return (
    <div className="grid gap-2">
      <ol className="grid gap-2">
        {items.map((item, index) => (
          <li key={index} className="flex items-start gap-2 border-b border-line pb-2">
            {children(item, (next) => onChange(items.map((one, at) => (at === index ? next : one))))}
            <button
              aria-label={`Take “${nameOf(item)}” out`}
              className="rounded p-1.5 text-soft enabled:hover:text-danger disabled:opacity-40"
              disabled={items.length <= least}
              onClick={() => onChange(items.filter((_, at) => at !== index))}
            >
              <X size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ol>
      {items.length < most && (
        <button className="act-quiet justify-self-start" onClick={() => onChange([...items, make()])}>
          <Plus size={14} aria-hidden="true" /> {add}
        </button>
      )}
    </div>
  );
}
