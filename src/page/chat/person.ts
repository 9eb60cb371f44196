import type { Heard, HeardLine, LinePicture, Speaker } from '@/core/conversations/line';
import type { MessageOf } from '@/core/messages/message';
import type { Context, KeptTalk } from '../show/context';
import { isHidden } from '../own';
import { absolute, make } from '../show/element';
import { uuid7 } from '../uuid';

const NAME = 'talk';
const QUIET = 'quiet';
/** The same as the collector takes (`core/conversations/line.ts`). */
const LONGEST = '4000';
const POLL_PAUSE_MS = 3000;
/** Somebody writes for so long after it was said. */
const WRITES_MS = 6000;

/** A short tone, softly; nothing where the browser does not let a page be heard. */
function beep(): void {
  try {
    const audio = new AudioContext();
    const [tone, volume] = [audio.createOscillator(), audio.createGain()];
    volume.gain.value = 0.06;
    tone.frequency.value = 660;
    tone.connect(volume).connect(audio.destination);
    tone.start();
    tone.stop(audio.currentTime + 0.15);
    tone.onended = () => void audio.close();
  } catch {
    // It is said in words as well.
  }
}

/** This tab tries what is not published (see `main.ts`). */
function isTrying(): boolean {
  try {
    return 'crindle' in sessionStorage;
  } catch {
    return false; // Cookies are blocked.
  }
}

/** A visitor's side of an exchange with somebody of the team. */
export interface PersonTalk {
  /** It was begun before, on this page or another one. */
  readonly kept: KeptTalk | undefined;
  /** Notes what the script says, or what the visitor answers to it. */
  readonly note: (by: 'script' | 'visitor', text: string, element: HTMLElement) => void;
  /** The visitor may write from now on. */
  readonly begin: (takesFocus: boolean) => void;
  /** The visitor puts it by; false where there is nothing to come back to. */
  readonly putBy: () => boolean;
  /** The visitor looks at it. */
  readonly look: () => void;
  readonly unseen: () => number;
}

/** `onUnseen` hears of each change while it is put by; `onWho` of whom it is with. */
export function talkWithPerson(
  message: MessageOf<'chat'>,
  context: Context,
  {
    box,
    log,
    answers,
    onUnseen,
    onWho,
  }: { box: HTMLElement; log: HTMLElement; answers: HTMLElement; onUnseen: () => void; onWho: (who: Speaker) => void },
): PersonTalk {
  const { talk } = context.deps;
  const { person } = message.conversation;
  const read = (): KeptTalk | undefined => talk?.host.store.read<KeptTalk>(NAME) ?? undefined;
  const before = read();
  const kept = before?.showing === talk?.showing && before?.message === message.id ? before : undefined;
  const elements = new Map<string, HTMLElement>();
  const waiting: [by: 'script' | 'visitor', text: string, id: string][] = [];
  let thread = kept?.thread;
  let isSmall = kept?.isSmall;
  let seq = 0;
  let seen = kept?.seq ?? 0;
  let unseen = 0;
  let isClosed = false;
  let isListening = false;
  /** What an email was asked for last. */
  let asked = '';
  let isAnswered = false;
  let isQuiet = talk?.host.store.read<boolean>(QUIET) ?? false;
  const status = make('p', '', { class: 'status', role: 'status' });

  const writes = make('p', '', { class: 'status' });
  let writesTimer: ReturnType<typeof setTimeout> | undefined;
  const talkUrl = (path: string): string =>
    talk ? `${talk.host.base}talk/${talk.host.siteKey}/${thread}${path}?browser=${talk.host.state.browser}` : '';

  const keep = (): void => {
    if (talk && thread)
      talk.host.store.write(NAME, {
        thread,
        showing: talk.showing,
        campaign: talk.campaign,
        message: message.id,
        isSmall,
        seq: seen,
        drawn: message,
      });
  };
  const newId = (): string => uuid7(talk?.host.now() ?? 0);

  function send(by: 'script' | 'visitor', text: string, id: string, isAnswer: boolean, picture?: string): void {
    if (!talk || !thread) return;
    const { host, showing, campaign } = talk;
    const where = { view: host.view().id, visit: host.state.visit.id };
    host.send({
      kind: 'line',
      ...where,
      id,
      thread,
      showing,
      campaign,
      at: host.now(),
      by,
      text,
      picture,
      ...(isAnswer ? { answers: true } : {}),
    });
  }

  /** With the first word of the visitor's it begins; what the script has said goes before. */
  function hasBegun(): void {
    if (!thread) {
      thread = newId();
      keep();
    }
    for (const [by, text, id] of waiting.splice(0)) send(by, text, id, by === 'visitor');
    listen();
  }

  function put(line: HeardLine): void {
    const known = elements.get(line.id);
    if (known) return known.removeAttribute('data-unsent');
    const element = make('p', line.picture ? '' : line.text, { class: line.by === 'visitor' ? 'them' : 'us' });
    if (line.picture) element.append(pictureOf(line.picture, line.text));
    if (line.from) element.prepend(make('b', line.from.name));
    elements.set(line.id, element);
    log.insertBefore(element, log.querySelector('[data-unsent]'));
    log.scrollTop = log.scrollHeight;
  }

  function pictureOf({ id, width, height }: LinePicture, alt: string): HTMLElement {
    const link = make('a', '', { href: talkUrl(`/pictures/${id}`), target: '_blank', rel: 'noopener' });
    link.append(make('img', '', { src: link.href, alt, width: `${width}`, height: `${height}` }));
    return link;
  }

  function hear({ lines, state, with: who, isStaffed, seen: seenThere }: Heard): void {
    let isNew = false;
    writes.textContent = '';
    for (const line of lines) {
      if (line.seq <= seq) continue;
      seq = line.seq;
      put(line);
      if (line.by === 'team') {
        isAnswered = true;
        if (line.seq > seen) {
          unseen++;
          isNew = true;
        }
      }
    }
    if (isNew && !isQuiet && (isSmall || isHidden())) beep();
    if (who) onWho(who);
    isClosed = state === 'closed';
    const isWaiting = !isAnswered && elements.size > 0;
    status.textContent = isClosed
      ? 'This conversation is closed; write to open it again.'
      : isStaffed || !isWaiting
        ? log.lastElementChild?.className === 'them' && seenThere >= seq
          ? 'Seen'
          : ''
        : (person?.nobody ?? 'Nobody is here just now.');
    if (!isStaffed && isWaiting && !isClosed && person?.asksEmail) askEmail('Your email', 'Thank you: we write to you.');
    if (isClosed && person?.copy) askEmail('A copy to your email', 'It is on its way.', true);
    if (!isSmall) look();
    onUnseen();
  }

  function look(): void {
    isSmall = false;
    unseen = 0;
    if (talk && thread && seq > seen) talk.host.send({ kind: 'read', thread, seq });
    seen = Math.max(seen, seq);
    keep();
  }

  function listen(): void {
    if (!talk?.host.siteKey || !thread || isListening) return;
    if (isTrying()) return void (status.textContent = 'In a try-out nobody hears this.');
    isListening = true;
    const url = talkUrl('') + '&after=';
    let isOver = false;
    context.onRemove(() => (isOver = true));
    // Where streams do not come through, it is asked again and again.
    const ask = context.deps.guard('talk', async () => {
      while (!isOver) {
        try {
          const response = await fetch(`${url}${seq}&once`);
          if (response.ok) {
            const heard = (await response.json()) as Heard;
            if (heard.state) hear(heard);
          } else throw new Error(String(response.status));
        } catch {
          await new Promise((resolve) => setTimeout(resolve, POLL_PAUSE_MS));
        }
      }
    });
    if (typeof EventSource === 'undefined') return ask();
    const stream = new EventSource(url + seq);
    context.onRemove(() => stream.close());
    stream.onmessage = context.deps.guard('talk', ({ data }: MessageEvent<string>) => hear(JSON.parse(data) as Heard));
    stream.addEventListener('writing', ({ data }: MessageEvent<string>) => {
      writes.textContent = `${JSON.parse(data) as string} writes …`;
      clearTimeout(writesTimer);
      writesTimer = setTimeout(() => (writes.textContent = ''), WRITES_MS);
    });
    stream.onerror = () => {
      // Closed for good: refused by a policy, or by something in between.
      if (stream.readyState === 2 && !isOver) ask();
    };
  }

  function askEmail(label: string, thanks: string, isCopy?: boolean): void {
    if (asked === label || !talk) return;
    asked = label;
    const form = make('form', '', { class: 'email', novalidate: '' });
    const input = make('input', '', {
      type: 'email',
      required: '',
      autocomplete: 'email',
      maxlength: '320',
      'aria-label': label,
      placeholder: label,
    });
    const error = make('p', '', { class: 'error', role: 'alert' });
    form.append(input, make('button', '→', { type: 'submit', 'aria-label': 'Leave it' }), error);
    context.on(form, 'submit', (event) => {
      event.preventDefault();
      error.textContent = input.checkValidity() ? '' : input.validationMessage;
      if (error.textContent) return input.focus();
      const { host } = talk;
      const email = input.value.trim();
      host.send(isCopy && thread ? { kind: 'copy', thread, email } : { kind: 'person', id: newId(), at: host.now(), email });
      form.replaceWith(make('p', thanks, { role: 'status', class: 'status' }));
    });
    answers.before(form);
  }

  function begin(takesFocus: boolean): void {
    const form = make('form', '', { novalidate: '' });
    const text = make('textarea', '', {
      rows: '1',
      maxlength: LONGEST,
      enterkeyhint: 'send',
      autocomplete: 'off',
      'aria-label': 'Your message',
      placeholder: 'Write …',
    });
    form.append(text, make('button', '→', { type: 'submit', 'aria-label': 'Send' }));
    // Enter sends; with Shift it is a line.
    context.on((box.getRootNode() as ShadowRoot).host, 'keydownEnter', (event) => {
      if (!text.matches(':focus')) return;
      event.preventDefault();
      form.requestSubmit();
    });
    context.on(form, 'submit', (event) => {
      event.preventDefault();
      const said = text.value.trim();
      if (!said) return;
      text.value = '';
      if (!thread) context.deps.onOutcome('replied');
      const id = newId();
      const element = make('p', said, { class: 'them', 'data-unsent': '' });
      elements.set(id, element);
      log.append(element);
      log.scrollTop = log.scrollHeight;
      hasBegun();
      send('visitor', said, id, false);
    });
    const sound = make('button', '♪', { type: 'button', 'aria-label': 'Sound' });
    const showSound = (): void => sound.setAttribute('aria-pressed', String(!isQuiet));
    showSound();
    context.on(sound, 'click', () => {
      isQuiet = !isQuiet;
      talk?.host.store.write(QUIET, isQuiet);
      showSound();
    });
    form.append(sound);
    if (talk?.host.siteKey && !isTrying()) form.append(pictureButton());
    // What is typed in a message is heard by nobody else: it is looked at instead.
    let before = '';
    const looking = setInterval(() => {
      if (text.value === before) return;
      before = text.value;
      if (before && thread && talk?.host.siteKey && !isTrying())
        void fetch(talkUrl('/writing'), { method: 'POST', keepalive: true }).catch(() => undefined);
    }, WRITES_MS / 3);
    context.onRemove(() => clearInterval(looking));
    answers.replaceChildren(status, writes, form);
    if (thread) listen();
    if (takesFocus && !context.deps.preview) text.focus({ preventScroll: true });
  }

  /** A picture goes first, then the line that shows it: what could not be sent is said so, and nothing is lost but the choice of it. */
  function pictureButton(): HTMLElement {
    const label = make('label', '', { class: 'pick' });
    const input = make('input', '', { type: 'file', accept: 'image/*', 'aria-label': 'Send a picture' });
    label.append('▧', input);
    context.on(input, 'change', () => {
      const file = input.files?.[0];
      input.value = '';
      if (!file) return;
      if (!thread) context.deps.onOutcome('replied');
      hasBegun();
      status.textContent = 'Sending the picture …';
      void fetch(talkUrl('/pictures'), { method: 'POST', body: file, headers: { 'content-type': 'text/plain' } })
        .then(async (response) => {
          const answer = (await response.json()) as LinePicture & { error?: { message: string } };
          status.textContent = answer.error?.message ?? '';
          if (response.ok) send('visitor', file.name.slice(0, 200), newId(), false, answer.id);
        })
        .catch(() => (status.textContent = 'The picture could not be sent; try again.'));
    });
    return label;
  }

  return {
    kept,
    note: (by, said, element) => {
      if (!person) return;
      const id = newId();
      elements.set(id, element);
      waiting.push([by, said, id]);
      if (by === 'visitor' || thread) hasBegun();
    },
    begin,
    putBy: () => {
      if (!thread) return false;
      if (isClosed) {
        talk?.host.store.write(NAME, null);
        return false;
      }
      isSmall = true;
      keep();
      return true;
    },
    look,
    unseen: () => unseen,
  };
}

/** Whom it is with, in the head of the thread. */
export function showWho(head: HTMLElement, { name, title, introduction, meeting }: Speaker): void {
  head.replaceChildren(make('b', name), ...[title, introduction].filter(Boolean).map((text) => make('span', text)));
  if (meeting) head.append(make('a', 'Arrange a meeting', { href: absolute(meeting), target: '_blank', rel: 'noopener' }));
}
