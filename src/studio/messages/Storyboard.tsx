'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { Path } from '@/core/flows/edit';
import { valueAt, withCopy, withFlow, withMessage, withNewMessage, withoutMessage, withRenamed, withValue } from '@/core/flows/edit';
import type { Flow } from '@/core/flows/flow';
import { flowSchema, messageOf, MOST_MESSAGES } from '@/core/flows/flow';
import type { Link } from '@/core/flows/links';
import type { Action } from '@/core/messages/action';
import type { Format, Message } from '@/core/messages/message';
import { messageSchema } from '@/core/messages/message';
import type { KnownVisitor } from '@/server/visitors/known';
import { fetched } from '../parts/net/call';
import { useBrand } from '../brand/useBrand';
import type { Change } from '../parts/saving/useDraft';
import { useSettled } from '../parts/saving/useSettled';
import type { Size } from './board';
import { endKey, placeAll, shifted } from './board';
import { DealBar } from './DealBar';
import { Lines } from './Lines';
import type { Measured } from './MessageFrame';
import { MessageFrame } from './MessageFrame';
import { Overview, OVERVIEW_FROM } from './Overview';
import { Pick } from './Pick';
import { TryHere } from './TryHere';
import { useLinks, useSteadyList } from './useLinks';
import { useShifts } from './useShifts';
import { useTaken, WayWords, WORDS_ABOVE } from './WaysTaken';
import { WhatCouldGoWrong } from './WhatCouldGoWrong';

/** Of the window, at most; where there is room a message has a margin about it and no more. */
const WIDTHS = { narrow: 320, phone: 375, tablet: 768, desktop: 1280 } as const;
type Device = keyof typeof WIDTHS;
const USUAL_WIDTH = 500;

const widthOf = (message: Message, device: Device): number =>
  Math.min(WIDTHS[device], message.format === 'popup' ? Math.max(USUAL_WIDTH, (message.width ?? 0) + 80) : USUAL_WIDTH);
const ZOOMS = [0.15, 0.25, 0.4, 0.5, 0.65, 0.8, 1] as const;
const FORMATS: readonly (readonly [Format, string])[] = [
  ['popup', 'Pop-up'],
  ['banner', 'Banner'],
  ['inset', 'Inset, part of the page'],
  ['chat', 'Chat message'],
  ['tab', 'Tab, a handle at the edge'],
  ['quiet', 'Quiet action'],
];

/** All messages of a campaign, drawn as visitors get them, with lines from every button to what it does; written in place. */
export function Storyboard({
  id: campaignId,
  campaign,
  onChange,
  onWrite,
}: {
  id: string;
  campaign: CampaignDocument;
  onChange: (change: Change<CampaignDocument>) => void;
  /** As `onChange`, for what is typed where it stands, and seen there before all else is drawn anew. */
  onWrite: (change: Change<CampaignDocument>) => void;
}) {
  const { flow } = campaign;
  const [device, setDevice] = useState<Device>('desktop');
  const [zoom, setZoom] = useState<number>(0.8);
  const [ground, setGround] = useState<'light' | 'dark'>('light');
  const [direction, setDirection] = useState<'ltr' | 'rtl'>('ltr');
  const [shownTo, showTo] = useState('');
  const { data: known = NOBODY } = useQuery({
    queryKey: ['known visitors'],
    queryFn: ({ signal }) => fetched('GET /api/visitors/known', { signal }),
  });
  const values = known.find(({ id }) => String(id) === shownTo)?.values ?? NO_VALUES;
  const brand = useBrand();
  const around = useRef<HTMLDivElement>(null);
  const [measured, setMeasured] = useState<ReadonlyMap<string, Measured>>(new Map());
  const ids = useSteadyList(flow.messages.map(({ id }) => id));
  const linksBy = useLinks(flow.messages, ids, campaign.goal.kind);
  const links = useMemo(() => [...linksBy.values()].flat(), [linksBy]);
  // What is typed rarely moves anything: frames are placed anew only where a size or a line is another, and not under somebody's hands.
  const sizes = useSettled(
    JSON.stringify(
      flow.messages.map((message) => [message.id, { width: widthOf(message, device), height: measured.get(message.id)?.height }]),
    ),
    pauseOfWriting,
  );
  const shape = JSON.stringify({
    start: flow.start,
    ids,
    links: links.map(({ from, path, to, words }) => ({ from, path, to, words: words.length > 0 ? [''] : [] })),
  } satisfies Shape);
  const laid = useMemo(() => {
    const known = new Map(JSON.parse(sizes) as [string, Partial<Size>][]);
    const { start, ids: all, links: lines } = JSON.parse(shape) as Shape;
    return placeAll(start, new Map(all.map((id) => [id, { width: USUAL_WIDTH, height: 400, ...known.get(id) }])), lines);
  }, [shape, sizes]);
  const [tried, setTried] = useState<string>();
  const { shifts, shift, layAnew } = useShifts(campaignId);
  const [showsTaken, setShowsTaken] = useState(false);
  const taken = useTaken(campaignId, showsTaken);
  const board = useMemo(() => shifted(laid, shifts), [laid, shifts]);

  // Frames are told apart by what they show: what is handed to them stays the same while the campaign changes.
  const latest = useRef(campaign);
  useLayoutEffect(() => {
    latest.current = campaign;
  });
  const change = useCallback((edit: (flow: Flow) => Flow) => onChange(inFlow(edit)), [onChange]);
  const onMeasured = useCallback((id: string, next: Measured) => {
    setMeasured((before) => (JSON.stringify(before.get(id)) === JSON.stringify(next) ? before : new Map(before).set(id, next)));
  }, []);
  const editOne = useCallback((id: string, edit: OneEdit) => onChange(inFlow(inMessage(id, edit))), [onChange]);
  const writeOne = useCallback((id: string, edit: OneEdit) => onWrite(inFlow(inMessage(id, edit))), [onWrite]);
  const rename = useCallback(
    (from: string, to: string) => {
      const { flow: before } = latest.current;
      if (withRenamed(before, from, to) === before) {
        if (from !== to) toast.error(`There is a message ${to} already`);
        return;
      }
      onChange((now) => {
        const variants = now.variants?.map((variant) => (variant.start === from ? { ...variant, start: to } : variant));
        return { ...now, flow: withRenamed(now.flow, from, to), ...(variants ? { variants } : {}) };
      });
    },
    [onChange],
  );
  const begin = useCallback((id: string) => change((before) => ({ ...before, start: id })), [change]);
  const copy = useCallback(
    (id: string) => change((before) => withCopy(before, before.messages.find((message) => message.id === id) as Message).flow),
    [change],
  );
  const remove = useCallback(
    (id: string) => {
      const { flow: before, variants } = latest.current;
      if (variants?.some(({ start }) => start === id)) return void toast.error(`A variant begins at ${id}; let it begin elsewhere first`);
      if (withoutMessage(before, id) === before)
        return void toast.error(
          before.messages.length === 1 ? 'A campaign has at least one message' : `A tab opens ${id}; let it open another first`,
        );
      change((now) => withoutMessage(now, id));
    },
    [change],
  );
  const openNew = useCallback(
    (id: string, path: Path, format: Format) =>
      change((before) => {
        const made = withNewMessage(before, format);
        if (made.flow === before) return before;
        const index = made.flow.messages.findIndex((message) => message.id === id);
        const at = ['messages', index, ...path];
        const does = ((valueAt(made.flow, at) ?? []) as Action[]).filter(({ kind }) => !['message', 'close', 'end'].includes(kind));
        return withValue(made.flow, at, [...does, { kind: 'message', id: made.id }]);
      }),
    [change],
  );

  useEffect(() => {
    const onPaste = (event: ClipboardEvent): void => {
      if (event.target instanceof HTMLElement && event.target.closest('input, textarea, select')) return;
      const copied = copiedIn(event.clipboardData?.getData('text') ?? '');
      if (!copied) return;
      event.preventDefault();
      const pasted = (flow: Flow): Flow => ('messages' in copied ? withFlow(flow, copied) : withCopy(flow, copied)).flow;
      const { flow: before } = latest.current;
      if (pasted(before) === before) toast.error(`There is no room for it: a campaign has at most ${MOST_MESSAGES} messages`);
      else change(pasted);
    };
    addEventListener('paste', onPaste);
    return () => removeEventListener('paste', onPaste);
  }, [change]);

  // Chromium may leave what is in a size container without its styles where it was skipped: so nothing is, where there is little to skip.
  const isLarge = flow.messages.length >= OVERVIEW_FROM;
  const below = board.height - 12;
  /** As large as all of it can be seen at. */
  const fit = (): void => {
    const room = around.current?.clientWidth ?? 0;
    setZoom(ZOOMS.findLast((one) => (board.width + 40) * one <= room) ?? ZOOMS[0]);
  };
  return (
    <div className="grid gap-4">
      {tried !== undefined && messageOf(flow, tried) && (
        <TryHere flow={flow} start={tried} brand={brand} values={values} onClose={() => setTried(undefined)} />
      )}
      <DealBar
        id={campaignId}
        campaign={campaign}
        onChange={({ holdout, variants, flow: next }) =>
          onChange((now) => ({ ...now, holdout, variants, ...(next === flow ? {} : { flow: next }) }))
        }
      />
      <WhatCouldGoWrong campaign={campaign} brand={brand} onFix={change} />
      {isLarge && <Overview board={board} ids={ids} zoom={zoom} around={around} />}
      <div ref={around} data-board className="overflow-auto rounded border border-line" role="group" aria-label="Storyboard">
        <div style={{ width: (board.width + 40) * zoom, height: (board.height + 40) * zoom, marginTop: taken ? WORDS_ABOVE * zoom : 0 }}>
          <div className="relative origin-top-left" style={{ width: board.width + 40, height: board.height + 40, scale: String(zoom) }}>
            <Lines links={links} board={board} measured={measured} start={flow.start} below={below} taken={taken} />
            <div className="pointer-events-none absolute inset-0 overflow-clip">
              {flow.messages.map((message) => {
                const spot = board.spots.get(message.id);
                const [width, height] = [widthOf(message, device), measured.get(message.id)?.height];
                return (
                  <div
                    key={message.id}
                    className={`absolute will-change-transform motion-safe:transition-[left,top] motion-safe:duration-150 ${height === undefined || !isLarge ? '' : '[content-visibility:auto]'}`}
                    style={{
                      left: (spot?.x ?? 0) - BESIDE,
                      top: (spot?.y ?? 0) - BESIDE,
                      padding: BESIDE,
                      containIntrinsicSize: height && `${width}px ${height}px`,
                    }}
                  >
                    <MessageFrame
                      message={message}
                      isStart={message.id === flow.start}
                      width={width}
                      zoom={zoom}
                      around={around}
                      ground={ground}
                      direction={direction}
                      brand={brand}
                      rule={campaign.rule}
                      values={values}
                      links={linksBy.get(message.id) ?? NONE}
                      messages={ids}
                      onEdit={editOne}
                      onWrite={writeOne}
                      onRename={rename}
                      onStart={begin}
                      onCopy={copy}
                      onRemove={remove}
                      onOpenNew={openNew}
                      onTry={setTried}
                      onShift={shift}
                      onMeasured={onMeasured}
                    />
                  </div>
                );
              })}
            </div>
            {taken && <WayWords taken={taken} board={board} ids={ids} />}
            {links
              .filter(({ to, words }) => to === undefined && words.length > 0)
              .map((link) => {
                const spot = board.spots.get(endKey(link));
                return (
                  <p
                    key={endKey(link)}
                    className="absolute ps-2 text-sm leading-5"
                    style={{ left: spot?.x, top: spot?.y, width: spot?.width }}
                  >
                    <b>{link.label}</b>
                    <br />
                    <span className="text-soft">{link.words.join(', ')}</span>
                  </p>
                );
              })}
          </div>
        </div>
      </div>
      <div className="sticky bottom-0 z-30 flex flex-wrap items-center gap-x-5 gap-y-2 border-t border-line bg-bone py-3">
        <Pick label="Width" value={device} options={Object.keys(WIDTHS) as Device[]} onChange={setDevice} />
        <Pick label="Page behind" value={ground} options={['light', 'dark']} onChange={setGround} />
        <Pick
          label="Reading from"
          value={direction}
          options={['ltr', 'rtl']}
          words={{ ltr: 'left', rtl: 'right' }}
          onChange={setDirection}
        />
        {known.length > 0 && (
          <label className="flex items-center gap-2 text-soft">
            as
            <select aria-label="Shown to" className="field w-44" value={shownTo} onChange={({ target }) => showTo(target.value)}>
              <option value="">somebody not known</option>
              {known.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="flex items-center gap-2 text-soft">
          Size
          <select aria-label="Size of the board" className="field" value={zoom} onChange={({ target }) => setZoom(Number(target.value))}>
            {ZOOMS.map((one) => (
              <option key={one} value={one}>
                {one * 100} %
              </option>
            ))}
          </select>
        </label>
        <button className="act-quiet" onClick={fit}>
          Fit
        </button>
        <button className="act-quiet" aria-pressed={showsTaken} onClick={() => setShowsTaken(!showsTaken)}>
          {showsTaken ? 'Without the ways taken' : 'Ways taken'}
        </button>
        {board !== laid && (
          <button className="act-quiet" onClick={layAnew}>
            Lay out anew
          </button>
        )}
        <span className="ms-auto text-soft">
          {flow.messages.length} of {MOST_MESSAGES} messages
        </span>
        <button
          className="act-quiet"
          onClick={() =>
            void navigator.clipboard?.writeText(JSON.stringify(flow, null, 2)).then(
              () => toast('The flow is copied: paste it on the board of any campaign'),
              () => toast.error('The browser does not let anything be copied here'),
            )
          }
        >
          Copy the flow
        </button>
        <Menu>
          <MenuButton className="act-quiet" disabled={flow.messages.length >= MOST_MESSAGES}>
            Add a message
          </MenuButton>
          <MenuItems anchor={{ to: 'top end', gap: 6 }} className="z-40 grid w-56 sheet p-1 shadow-lg">
            {FORMATS.map(([format, words]) => (
              <MenuItem key={format}>
                <button
                  className="block w-full rounded px-3 py-1.5 text-start data-focus:bg-bone"
                  onClick={() => change((before) => withNewMessage(before, format).flow)}
                >
                  {words}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
      </div>
    </div>
  );
}

type OneEdit = (message: Message) => Message;

const inFlow =
  (edit: (flow: Flow) => Flow) =>
  (campaign: CampaignDocument): CampaignDocument => {
    const flow = edit(campaign.flow);
    return flow === campaign.flow ? campaign : { ...campaign, flow };
  };
const inMessage =
  (id: string, edit: OneEdit) =>
  (flow: Flow): Flow => {
    const message = messageOf(flow, id);
    const next = message && edit(message);
    return next && next !== message ? withMessage(flow, id, next) : flow;
  };

/** What the places of frames hang on. */
interface Shape {
  readonly start: string;
  readonly ids: readonly string[];
  readonly links: readonly Pick<Link, 'from' | 'path' | 'to' | 'words'>[];
}

/** What may be skipped is cut off at its edge, and a frame has handles and tools that stand beyond its own. In px. */
const BESIDE = 100;

/** Frames do not move while somebody is writing in one. In ms. */
const pauseOfWriting = (): number => (document.activeElement?.matches('[data-frame] :is(textarea, [role=textbox])') ? 250 : 0);

const NONE: readonly Link[] = [];
const NOBODY: readonly KnownVisitor[] = [];
const NO_VALUES = {};

/** A message or a whole flow that was copied as JSON. */
function copiedIn(text: string): Message | Flow | undefined {
  if (!text.trimStart().startsWith('{')) return undefined;
  try {
    const met: unknown = JSON.parse(text);
    return messageSchema().safeParse(met).data ?? flowSchema().safeParse(met).data;
  } catch {
    return undefined; // Something else was copied: it is not for the board.
  }
}
