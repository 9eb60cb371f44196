/** @jsxImportSource preact */
import { render } from 'preact';
import { useEffect, useReducer, useState } from 'preact/hooks';
import { askSoon, heard, leave, onHeard } from '../asking';
import { now } from '../clock';
import { DOCK } from '../sensor';
import { saveSession, session, startAfresh } from '../session';
import { watchedView } from '../view';
import { Pointing } from '../pointing/Pointing';
import { ByHand } from './ByHand';
import { freshVisitor } from './doing';
import { Campaigns } from './Campaigns';
import { Failure } from './Failure';
import { Ours } from './Ours';
import type { Change } from './pretended';
import { Pretending } from './Pretending';
import { Reasons } from './Reasons';
import { DOCK_STYLE } from './style';
import { VisitRibbon } from './VisitRibbon';

const REDRAW_MS = 500;
const INSIDE = [
  'click',
  'pointerdown',
  'pointerup',
  'mousedown',
  'mouseup',
  'keydown',
  'keyup',
  'input',
  'change',
  'submit',
  'wheel',
  'touchstart',
];

/** Puts the dock into the page, in a shadow tree of its own; it goes with the page. */
export function mountDock(isPointing = false): void {
  const host = document.createElement('div');
  host.setAttribute(DOCK, '');
  // What is done in the dock is none of the page's business.
  for (const type of INSIDE) host.addEventListener(type, (event) => event.stopPropagation());
  const shadow = host.attachShadow({ mode: 'open' });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(DOCK_STYLE);
  shadow.adoptedStyleSheets = [sheet];
  document.documentElement.append(host);
  raise(host);
  render(isPointing ? <Pointing /> : <Dock />, shadow);
}

/** Above what opened last: messages stand in the top layer, where the newest is in front. Where there are no popovers the z-index has to do. */
function raise(host: HTMLElement): void {
  if (!('popover' in host)) return;
  host.popover = 'manual';
  if (host.matches(':popover-open')) host.hidePopover();
  host.showPopover();
}

const timeOf = (at: number): string => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

function Dock() {
  const [, redraw] = useReducer((count: number) => count + 1, 0);
  useEffect(() => {
    onHeard(() => redraw(0));
    const timer = setInterval(() => redraw(0), REDRAW_MS);
    return () => clearInterval(timer);
  }, []);
  const { judged, ended, failure } = heard();
  const held = [...(watchedView()?.held.keys() ?? [])].sort().join(' ');
  useEffect(() => {
    const host = document.querySelector<HTMLElement>(`[${DOCK}]`);
    if (host?.isConnected) raise(host);
  }, [held]);
  const kept = session();
  const [isOther, setOther] = useState(false);
  const set = (work: () => void): void => {
    work();
    saveSession();
    askSoon();
    redraw(0);
  };
  const change: Change = (changes) =>
    set(() => {
      kept.pretend = Object.fromEntries(
        Object.entries({ ...kept.pretend, ...(typeof changes === 'function' ? changes(kept.pretend) : changes) }).filter(
          ([, value]) => value !== undefined,
        ),
      );
    });
  if (ended === 'over') return <Over />;
  const { isSmall, isTop } = kept.looks;
  const campaigns = judged?.campaigns ?? [];
  const nameOf = (id: string): string => campaigns.find((one) => one.id === id)?.name ?? id;
  const shows = new Set(watchedView()?.held.keys());
  const look = (looks: Partial<typeof kept.looks>) => set(() => Object.assign(kept.looks, looks));
  return (
    <section class={`dock ${isTop ? 'top' : ''} ${isSmall ? 'small' : ''}`} aria-label="Try-out">
      <div class="head">
        <p class="what">
          <b>Try-out</b>
          <br />
          <span class="soft">{judged?.draftAt ? `draft of ${timeOf(judged.draftAt)} · ` : ''}nothing is counted</span>
        </p>
        <div class="visit">
          {isSmall ? (
            <span>{campaigns.filter(({ id }) => shows.has(id)).map(({ name }) => `${name} is showing`)}</span>
          ) : (
            <VisitRibbon views={kept.ribbon} now={now()} initialOf={(id) => nameOf(id).slice(0, 1).toUpperCase()} />
          )}
        </div>
        <div class="acts">
          <button type="button" class="act" onClick={freshVisitor}>
            A fresh visitor
          </button>
          <button type="button" class="act" aria-pressed={isSmall} onClick={() => look({ isSmall: !isSmall })}>
            {isSmall ? 'Open' : 'Small'}
          </button>
          <button type="button" class="act" onClick={() => look({ isTop: !isTop })}>
            {isTop ? 'To the bottom' : 'To the top'}
          </button>
          <button type="button" class="act" onClick={() => void leave()}>
            Leave the try-out
          </button>
        </div>
      </div>
      <Failure words={failure} />
      <ByHand />
      {!isSmall && (
        <div class="columns">
          <div class="column">
            <Campaigns
              campaigns={campaigns}
              chosen={kept.chosen}
              shows={shows}
              onChoose={(id) => set(() => (kept.chosen = id))}
              onTake={(id, takes) => change({ takes: { ...kept.pretend.takes, [id]: takes } })}
            />
          </div>
          <div class="column" aria-live="off">
            {judged?.chosen ? (
              <>
                <Reasons chosen={judged.chosen} />
                {judged.chosen.variants.length > 1 && (
                  <label class="row" style={{ marginTop: '8px' }}>
                    Shows
                    <select
                      class="field wide"
                      value={kept.pretend.variants?.[judged.chosen.id] ?? ''}
                      onChange={({ currentTarget: { value } }) => {
                        const { [judged.chosen?.id ?? '']: _was, ...others } = kept.pretend.variants ?? {};
                        change({ variants: value ? { ...others, [judged.chosen?.id ?? '']: value } : others });
                      }}
                    >
                      <option value="">the version this visitor is dealt</option>
                      {judged.chosen.variants.map((name) => (
                        <option key={name}>{name}</option>
                      ))}
                    </select>
                  </label>
                )}
              </>
            ) : (
              <p class="soft">{judged ? 'Choose a campaign to see why it is silent.' : 'The collector is asked …'}</p>
            )}
          </div>
          <div class="column">
            <Pretending
              pretend={kept.pretend}
              ahead={kept.ahead}
              found={judged?.found}
              nameOf={nameOf}
              change={change}
              setClock={(ahead) =>
                set(() => {
                  // Nobody was here in the future.
                  if (ahead < kept.ahead) startAfresh();
                  kept.ahead = ahead;
                  location.reload();
                })
              }
            />
            <button type="button" class="phrase" aria-expanded={isOther} onClick={() => setOther(!isOther)}>
              This browser itself
            </button>
            {isOther && <Ours />}
          </div>
        </div>
      )}
    </section>
  );
}

function Over() {
  useEffect(() => {
    (window as unknown as { crindle?: { stop?: () => void } }).crindle?.stop?.();
  }, []);
  return (
    <section class="dock small" aria-label="Try-out">
      <div class="head">
        <p role="alert" style={{ flex: 1 }}>
          <b>The try-out is over.</b> You were signed out, or nothing was heard of this tab for twenty minutes. Begin another in the studio.
        </p>
        <button type="button" class="act" onClick={() => location.reload()}>
          Load the page as visitors get it
        </button>
      </div>
    </section>
  );
}
