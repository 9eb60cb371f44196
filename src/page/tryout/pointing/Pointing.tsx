/** @jsxImportSource preact */
import { useEffect, useState } from 'preact/hooks';
import type { OnRecord, Pointed } from '@/core/tryout/asked';
import { pageChoices } from '@/core/tryout/pageChoices';
import { leave, onRecord, tellPointed } from '../asking';
import { Failure } from '../dock/Failure';
import { DOCK } from '../sensor';
import { saveSession, session } from '../session';
import type { Suggestion } from './selectors';
import { suggestSelectors } from './selectors';

interface Offered {
  readonly picked: Pointed;
  readonly code: string;
  readonly words: string;
}

const isOurs = (target: EventTarget | null): boolean => target instanceof Element && target.hasAttribute(DOCK);

/** What is offered, each with how often it is on record. */
function Offers({ offered, onPick }: { offered: readonly Offered[]; onPick: (picked: Pointed) => void }) {
  const [counts, setCounts] = useState<readonly OnRecord[]>([]);
  const key = offered.map(({ code }) => code).join('\n');
  useEffect(() => {
    let isOld = false;
    onRecord(offered.map(({ picked }) => picked)).then(
      (answer) => !isOld && setCounts(answer),
      () => undefined, // Without the counts it can be picked all the same.
    );
    return () => {
      isOld = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what is offered is made anew at each drawing, and is the same by its codes
  }, [key]);
  return (
    <ul class="offers" aria-label="Take">
      {offered.map(({ picked, code, words }, index) => (
        <li key={code}>
          <button type="button" class="choice" onClick={() => onPick(picked)}>
            <code>{code}</code>
            <small>
              {words}
              {recordWords(counts[index])}
            </small>
          </button>
        </li>
      ))}
    </ul>
  );
}

function recordWords(counts: OnRecord | undefined): string {
  if (!counts) return '';
  const { views, pages } = counts;
  if (views === undefined) return ' · not looked for so far';
  const seen = `${views} recorded ${views === 1 ? 'view' : 'views'}`;
  return ` · ${seen}${pages === undefined ? '' : ` of ${pages} ${pages === 1 ? 'page' : 'pages'}`}`;
}

const elementWords = ({ by, matches, isFleeting }: Suggestion): string =>
  `by ${by} · ${matches === 1 ? 'this element alone' : `${matches} elements here`}${isFleeting ? ' · may be another tomorrow' : ''}`;

/** The tab in which a field of the studio is filled: pages by walking there, elements by pointing at them. */
export function Pointing() {
  const wants = session().wants ?? 'page';
  const [picked, setPicked] = useState<Pointed>();
  const [failure, setFailure] = useState('');
  const take = (pointed: Pointed): void => {
    tellPointed(pointed)
      .then(() => setPicked(pointed))
      .catch((cause: unknown) => setFailure(cause instanceof Error ? cause.message : String(cause)));
  };
  return (
    <section class={`dock ${session().looks.isTop ? 'top' : ''}`} aria-label="Pointing">
      <div class="head">
        {picked ? (
          <p role="status" style={{ flex: 1 }}>
            <b>{picked.kind === 'page' ? picked.value : picked.selector}</b> stands in the studio now. You can close this tab.
          </p>
        ) : wants === 'page' ? (
          <PickPage onPick={take} />
        ) : (
          <PickElement onPick={take} />
        )}
        <div class="acts">
          <Side />
          <button type="button" class="act" onClick={() => void leave()}>
            Leave
          </button>
        </div>
      </div>
      <Failure words={failure} />
    </section>
  );
}

function Side() {
  const [isTop, setTop] = useState(session().looks.isTop);
  return (
    <button
      type="button"
      class="act"
      onClick={(event) => {
        session().looks.isTop = !isTop;
        saveSession();
        event.currentTarget.closest('.dock')?.classList.toggle('top', !isTop);
        setTop(!isTop);
      }}
    >
      {isTop ? 'To the bottom' : 'To the top'}
    </button>
  );
}

const LOOK_MS = 300;

function PickPage({ onPick }: { onPick: (picked: Pointed) => void }) {
  const [path, setPath] = useState(location.pathname);
  useEffect(() => {
    // A page that goes on without being loaded tells nobody.
    const timer = setInterval(() => setPath(location.pathname), LOOK_MS);
    return () => clearInterval(timer);
  }, []);
  const offered = pageChoices(path).map(({ picked, words }): Offered => ({ picked, code: picked.value, words }));
  return (
    <div style={{ flex: 1 }}>
      <p>
        <b>Walk to the page that is meant.</b> <span class="soft">You are at {path}. Take</span>
      </p>
      <Offers offered={offered} onPick={onPick} />
    </div>
  );
}

interface PointedAt {
  readonly element: Element;
  /** Where the pointer first was: to narrow is to come back to it. */
  readonly from: Element;
}

function PickElement({ onPick }: { onPick: (picked: Pointed) => void }) {
  const [at, setAt] = useState<PointedAt>();
  const [isFixed, setFixed] = useState(false);
  const [isWalking, setWalking] = useState(false);
  useEffect(() => {
    if (isWalking) return undefined;
    const options = { capture: true };
    const over = (event: PointerEvent): void => {
      const target = event.target;
      if (isFixed || isOurs(target) || !(target instanceof Element)) return;
      setAt({ element: target, from: target });
    };
    /** What is pointed at does nothing on the page. */
    const stop = (event: Event): void => {
      if (isOurs(event.target)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.type !== 'click' || !(event.target instanceof Element)) return;
      setAt({ element: event.target, from: event.target });
      setFixed(true);
    };
    const keys = (event: KeyboardEvent): void => {
      if (isOurs(event.target)) return;
      const does = KEYS[event.key];
      if (!does) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (does === 'give up') {
        setFixed(false);
        return;
      }
      if (does === 'choose') setFixed(true);
      else setAt((now) => now && (does === 'widen' ? widened(now) : narrowed(now)));
    };
    const events = ['click', 'pointerdown', 'mousedown', 'pointerup', 'mouseup', 'auxclick', 'dblclick', 'submit'] as const;
    addEventListener('pointerover', over, options);
    addEventListener('keydown', keys, options);
    for (const name of events) addEventListener(name, stop, options);
    return () => {
      removeEventListener('pointerover', over, options);
      removeEventListener('keydown', keys, options);
      for (const name of events) removeEventListener(name, stop, options);
    };
  }, [isFixed, isWalking]);
  const offered = at && isFixed ? suggestSelectors(at.element).map(toOffer) : [];
  return (
    <div style={{ flex: 1, minWidth: 0 }}>
      <p>
        <b>{isFixed ? 'Take' : isWalking ? 'Walk to the page where it stands.' : 'Point at the element that is meant, and click.'}</b>{' '}
        <span class="soft">{at ? `<${at.element.localName}> ` : ''}</span>
        <button type="button" class="act" disabled={!at} onClick={() => setAt((now) => now && widened(now))}>
          Wider
        </button>{' '}
        <button type="button" class="act" disabled={!at} onClick={() => setAt((now) => now && narrowed(now))}>
          Narrower
        </button>{' '}
        {isFixed ? (
          <button type="button" class="act" onClick={() => setFixed(false)}>
            Point at another
          </button>
        ) : (
          <button
            type="button"
            class="act"
            aria-pressed={isWalking}
            onClick={() => {
              setWalking(!isWalking);
              setAt(undefined);
            }}
          >
            {isWalking ? 'Point here' : 'Walk to another page'}
          </button>
        )}{' '}
        <span class="soft">keys: ↑ wider, ↓ narrower, Enter takes it</span>
      </p>
      {offered.length > 0 && <Offers offered={offered} onPick={onPick} />}
      {at && !isWalking && <Outline element={at.element} />}
    </div>
  );
}

const KEYS: Readonly<Record<string, 'widen' | 'narrow' | 'choose' | 'give up'>> = {
  ArrowUp: 'widen',
  ArrowDown: 'narrow',
  Enter: 'choose',
  Escape: 'give up',
};

const toOffer = (one: Suggestion): Offered => ({
  picked: { kind: 'element', selector: one.selector },
  code: one.selector,
  words: elementWords(one),
});

const widened = (at: PointedAt): PointedAt => {
  const { parentElement } = at.element;
  return parentElement && parentElement !== document.documentElement ? { ...at, element: parentElement } : at;
};

/** One step down the way to where the pointer was; there, into the first child. */
function narrowed(at: PointedAt): PointedAt {
  if (at.element === at.from) {
    const first = at.element.firstElementChild;
    return first ? { element: first, from: first } : at;
  }
  const next = [...at.element.children].find((child) => child.contains(at.from));
  return { ...at, element: next ?? at.from };
}

/** Around what is pointed at, wherever it is moved to. */
function Outline({ element }: { element: Element }) {
  const [box, setBox] = useState(() => element.getBoundingClientRect());
  useEffect(() => {
    let frame = 0;
    const follow = (): void => {
      setBox(element.getBoundingClientRect());
      frame = requestAnimationFrame(follow);
    };
    follow();
    return () => cancelAnimationFrame(frame);
  }, [element]);
  return <div class="outline" style={{ left: `${box.left}px`, top: `${box.top}px`, width: `${box.width}px`, height: `${box.height}px` }} />;
}
