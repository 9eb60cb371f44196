'use client';

import { createContext, use } from 'react';
import type { Brand } from '@/core/brand/brand';
import type { Message, MessageOf } from '@/core/messages/message';
import { ENTRANCES, POSITIONS } from '@/core/messages/message';
import { NumberField } from '../rule/fields';
import { PickOnSite } from '../tryout/PickOnSite';
import { OneOf, Phrase } from './Phrase';

type Set<M> = (next: Partial<M>) => void;

const PLACES: Readonly<Record<(typeof POSITIONS)[number], string>> = {
  'top start': 'at the top, where lines begin',
  top: 'at the top',
  'top end': 'at the top, where lines end',
  start: 'at the side where lines begin',
  middle: 'in the middle',
  end: 'at the side where lines end',
  'bottom start': 'at the bottom, where lines begin',
  bottom: 'at the bottom',
  'bottom end': 'at the bottom, where lines end',
};
const COMES: Readonly<Record<(typeof ENTRANCES)[number], string>> = {
  none: 'is simply there',
  fade: 'fades in',
  rise: 'rises in',
  drop: 'drops in',
  glide: 'glides in',
  grow: 'grows in',
  unfold: 'unfolds',
};
const WAYS = { button: 'its ×', dim: 'a click beside it', escape: 'Escape' } as const;
type Way = keyof typeof WAYS;
const LIST = new Intl.ListFormat('en-GB');

const BrandContext = createContext<Brand>({});

/** How a message behaves, as a sentence whose words can be changed. */
export function Manners({ message, brand, onChange }: { message: Message; brand: Brand; onChange: (message: Message) => void }) {
  const set = (next: object): void => onChange({ ...message, ...next });
  return (
    <p className="font-display text-base leading-7 text-soft">
      <BrandContext value={brand}>{sentenceOf(message, set)}</BrandContext>
    </p>
  );
}

function sentenceOf(message: Message, set: (next: object) => void) {
  switch (message.format) {
    case 'popup':
      return <OfPopup message={message} set={set} />;
    case 'banner':
      return <OfBanner message={message} set={set} />;
    case 'inset':
      return <OfInset message={message} set={set} />;
    case 'tab':
      return (
        <>
          Stands{' '}
          <OneOf
            label="Edge"
            value={message.edge}
            options={[
              ['start', 'at the side where lines begin'],
              ['end', 'at the side where lines end'],
              ['bottom', 'at the bottom'],
            ]}
            onChange={(edge) => set({ edge })}
          />
          , in <Colour value={message.colour} onChange={(colour) => set({ colour })} />, and stays until it is pressed.
        </>
      );
    case 'chat':
      return (
        <>
          Stands in the corner, in <Colour value={message.colour} onChange={(colour) => set({ colour })} />.{' '}
          <OneOf
            label="How it begins"
            value={message.bubble === undefined ? 'thread' : 'bubble'}
            options={[
              ['bubble', 'A bubble speaks first'],
              ['thread', 'It opens at once'],
            ]}
            onChange={(how) => set({ bubble: how === 'bubble' ? 'May we help?' : undefined })}
          />
          . Closed by its ×.
        </>
      );
    case 'quiet':
      return <>Shows nothing; the visitor does not notice.</>;
  }
}

function OfPopup({ message, set }: { message: MessageOf<'popup'>; set: Set<MessageOf<'popup'>> }) {
  const hasDim = message.dim !== false;
  return (
    <>
      Stands{' '}
      <Phrase label="Position" words={PLACES[message.position ?? 'middle']}>
        {(close) => (
          <div role="group" aria-label="Position in the window" className="grid h-24 w-36 grid-cols-3 gap-1 border border-edge p-1">
            {POSITIONS.map((position) => (
              <button
                key={position}
                aria-label={PLACES[position]}
                aria-pressed={(message.position ?? 'middle') === position}
                className="rounded-sm bg-line hover:bg-soft aria-pressed:bg-pine"
                onClick={() => {
                  set({ position });
                  close();
                }}
              />
            ))}
          </div>
        )}
      </Phrase>{' '}
      <OneOf
        label="What lies behind"
        value={hasDim ? 'dim' : 'none'}
        options={[
          ['dim', 'over a dim'],
          ['none', 'beside a page that stays usable'],
        ]}
        onChange={(behind) => set({ dim: behind === 'dim' })}
      />
      ,{' '}
      <OneOf
        label="Entrance"
        value={message.entrance ?? 'rise'}
        options={ENTRANCES.map((one) => [one, COMES[one]] as const)}
        onChange={(entrance) => set({ entrance })}
      />
      ,{' '}
      <Phrase label="Width" words={`${message.width ?? 420} wide`}>
        {() => (
          <label className="flex items-center gap-2">
            Pixels, at most
            <NumberField label="Width" value={message.width ?? 420} min={220} max={960} onChange={(width) => set({ width })} />
          </label>
        )}
      </Phrase>
      , in <Colour value={message.colour} onChange={(colour) => set({ colour })} /> with{' '}
      <Corners value={message.corners} onChange={(corners) => set({ corners })} />.{' '}
      <Closed
        closes={message.closes}
        ways={hasDim ? ['button', 'dim', 'escape'] : ['button', 'escape']}
        onChange={(closes) => set({ closes } as never)}
      />
    </>
  );
}

function OfBanner({ message, set }: { message: MessageOf<'banner'>; set: Set<MessageOf<'banner'>> }) {
  return (
    <>
      Lies{' '}
      <OneOf
        label="Edge"
        value={message.edge}
        options={[
          ['top', 'at the top'],
          ['bottom', 'at the bottom'],
        ]}
        onChange={(edge) => set({ edge })}
      />
      ,{' '}
      <Phrase
        label="How it lies"
        words={message.slot !== undefined ? `in the slot ${message.slot}` : message.pushes ? 'pushing the page aside' : 'over the page'}
      >
        {() => (
          <div className="grid gap-2">
            {(
              [
                ['over the page', { pushes: undefined, slot: undefined }],
                ['pushing the page aside', { pushes: true, slot: undefined }],
              ] as const
            ).map(([words, next]) => (
              <button key={words} className="rounded px-2 py-1 text-start hover:bg-bone" onClick={() => set(next)}>
                {words}
              </button>
            ))}
            <Slot value={message.slot ?? ''} onChange={(slot) => set({ slot, pushes: undefined })} />
          </div>
        )}
      </Phrase>
      , in <Colour value={message.colour} onChange={(colour) => set({ colour })} />.{' '}
      <Closed closes={message.closes} ways={['button', 'escape']} onChange={(closes) => set({ closes } as never)} />
    </>
  );
}

function OfInset({ message, set }: { message: MessageOf<'inset'>; set: Set<MessageOf<'inset'>> }) {
  const { into } = message;
  return (
    <>
      Stands{' '}
      <OneOf
        label="How it stands there"
        value={message.how ?? 'fill'}
        options={[
          ['fill', 'in'],
          ['before', 'before'],
          ['after', 'after'],
        ]}
        onChange={(how) => set({ how })}
      />{' '}
      <Phrase
        label="Where in the page"
        words={'slot' in into ? `the slot ${into.slot}` : <code className="font-mono text-[13px]">{into.selector}</code>}
      >
        {() => (
          <div className="grid gap-2">
            <Slot value={'slot' in into ? into.slot : ''} onChange={(slot) => set({ into: { slot } })} />
            <label className="grid gap-1">
              or at an element (a CSS selector)
              <input
                className="field font-mono text-[13px]"
                value={'selector' in into ? into.selector : ''}
                maxLength={500}
                placeholder="#offers"
                onChange={({ target }) => target.value && set({ into: { selector: target.value } })}
              />
            </label>
            <PickOnSite wants="element" onPick={({ selector }) => set({ into: { selector } })} />
          </div>
        )}
      </Phrase>
      , in <Colour value={message.colour} onChange={(colour) => set({ colour })} /> with{' '}
      <Corners value={message.corners} onChange={(corners) => set({ corners })} />.{' '}
      <Closed closes={message.closes} ways={['button']} onChange={(closes) => set({ closes })} />
    </>
  );
}

function Slot({ value, onChange }: { value: string; onChange: (slot: string) => void }) {
  return (
    <label className="grid gap-1">
      in a slot of the site, by its name
      <input
        className="field font-mono text-[13px]"
        value={value}
        maxLength={60}
        placeholder="offer"
        onChange={({ target }) => /^[a-z0-9][a-z0-9_-]*$/i.test(target.value) && onChange(target.value)}
      />
    </label>
  );
}

const OURS = '#2d4a43';

function Colour({ value, onChange }: { value: string | undefined; onChange: (colour: string | undefined) => void }) {
  const { colour: ofBrand } = use(BrandContext);
  const shown = value ?? ofBrand ?? OURS;
  return (
    <Phrase
      label="Colour"
      words={
        <>
          <span aria-hidden="true" className="me-1 inline-block h-3 w-3 rounded-sm align-[-1px]" style={{ background: shown }} />
          {value ?? (ofBrand ? 'the brand’s colour' : 'the usual green')}
        </>
      }
    >
      {() => (
        <div className="grid gap-2">
          <label className="flex items-center gap-2">
            Of buttons and marks
            <input type="color" className="h-8 w-16" value={shown} onChange={({ target }) => onChange(target.value)} />
          </label>
          {value && (
            <button className="act-quiet" onClick={() => onChange(undefined)}>
              As the brand has it
            </button>
          )}
        </div>
      )}
    </Phrase>
  );
}

function Corners({ value: own, onChange }: { value: number | undefined; onChange: (corners: number) => void }) {
  const { corners: ofBrand } = use(BrandContext);
  const value = own ?? ofBrand ?? 6;
  return (
    <Phrase label="Corners" words={value === 0 ? 'square corners' : `corners of ${value}`}>
      {() => (
        <label className="flex items-center gap-2">
          Radius in pixels
          <NumberField label="Corners" value={value} min={0} max={32} onChange={(next) => onChange(Math.round(next))} />
        </label>
      )}
    </Phrase>
  );
}

interface Closes {
  readonly button: boolean;
  readonly dim?: boolean;
  readonly escape?: boolean;
  readonly after?: number | undefined;
}

function Closed({ closes, ways, onChange }: { closes: Closes; ways: readonly Way[]; onChange: (closes: Closes) => void }) {
  const open = ways.filter((way) => closes[way]);
  const hasAfter = ways.length > 1;
  const words = open.length === 0 ? 'nothing but its buttons' : LIST.format(open.map((way) => WAYS[way]));
  return (
    <>
      Closed by{' '}
      <Phrase label="Ways to close" words={words}>
        {() => (
          <fieldset className="grid gap-1.5">
            <legend className="sr-only">Can be closed by</legend>
            {ways.map((way) => (
              <label key={way} className="inline-flex items-center gap-2">
                <input
                  type="checkbox"
                  className="h-4 w-4 accent-(--pine)"
                  checked={closes[way] === true}
                  onChange={({ target }) => onChange({ ...closes, [way]: target.checked })}
                />
                {WAYS[way]}
              </label>
            ))}
          </fieldset>
        )}
      </Phrase>
      {hasAfter && open.length > 0 && (
        <>
          ,{' '}
          <Phrase label="When it can be closed" words={closes.after ? `after ${closes.after} s` : 'at once'}>
            {() => (
              <label className="flex items-center gap-2">
                Seconds until closing is offered
                <NumberField
                  label="Seconds until closing"
                  value={closes.after ?? 0}
                  min={0}
                  max={60}
                  onChange={(after) => onChange({ ...closes, after: after || undefined })}
                />
              </label>
            )}
          </Phrase>
        </>
      )}
      .
    </>
  );
}
