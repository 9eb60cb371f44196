// Blocks that few messages have: loaded only where a flow has one.
import type { BlockOf, ExtraKind } from '@/core/messages/block';
import type { Run } from '@/core/messages/blocks/rich';
import type { Field } from '@/core/messages/field';
import type { Context, Deps, DrawExtra } from './context';
import { absolute, group, make, thank } from './element';

export { partFor } from '@/core/flows/forSome';

/** What these blocks look like, beside what every message brings. */
export const extraStyle = `
.rating{display:flex;flex-wrap:wrap;gap:6px}.rating .button{width:44px;padding:0}
.coupon{display:flex;flex-wrap:wrap;align-items:center;gap:10px;margin:0 0 14px;padding:10px 12px;border:1px dashed #6c7773;border-radius:4px}
.coupon code{flex:1;font:600 18px ui-monospace,monospace;letter-spacing:.04em}.coupon .button{width:auto}
.countdown{font-size:26px;font-weight:700;font-variant-numeric:tabular-nums}
.rich{margin:0 0 16px}.rich>*{margin:0;padding:0}.rich>:is(ul,ol){padding-inline-start:1.4em}.rich>*+*{margin-top:8px}:is(.rich,.tick) a{color:inherit}
`;

const DRAW: { readonly [K in ExtraKind]: (block: BlockOf<K>, context: Context, id: string) => HTMLElement } = {
  countdown: drawCountdown,
  coupon: drawCoupon,
  rating: drawRating,
  rich: drawRich,
};

export const drawExtra: DrawExtra = (block, context, id) => (DRAW[block.kind] as DrawExtra)(block, context, id);

function drawCountdown(block: BlockOf<'countdown'>, context: Context): HTMLElement {
  const end = block.until ? Date.parse(block.until) : context.deps.firstSeen('countdown') + (block.minutes ?? 0) * 60_000;
  const line = make('p', '', { class: 'countdown', role: 'timer' });
  const tick = (): void => {
    const left = end - context.deps.now();
    line.textContent = left > 0 ? clock(left) : context.text(block.over);
    if (left > 0) context.later(tick, (left % 1000) + 1);
  };
  tick();
  return line;
}

/** "2 d 03:04:05" */
function clock(ms: number): string {
  const seconds = Math.ceil(ms / 1000);
  const days = Math.floor(seconds / 86_400);
  const parts = [seconds / 3600, seconds / 60, seconds].map((value, index) => Math.floor(value) % (index ? 60 : 24));
  return `${days ? `${days} d ` : ''}${parts.map((part) => String(part).padStart(2, '0')).join(':')}`;
}

function drawCoupon({ code, label }: BlockOf<'coupon'>, context: Context): HTMLElement {
  const box = make('div', '', { class: 'coupon' });
  const shown = make('code', code);
  const button = make('button', context.text(label), { type: 'button', class: 'button quiet' });
  const said = make('span', '', { role: 'status', class: 'said' });
  context.on(button, 'click', () => {
    const copied = (): void => void (said.textContent = '✓');
    // Where the clipboard is closed, the code is marked, ready to be copied by hand.
    const mark = (): void => getSelection()?.selectAllChildren(shown);
    if (navigator.clipboard) navigator.clipboard.writeText(code).then(copied, mark);
    else mark();
    context.perform([{ kind: 'report', event: 'coupon_copied', props: { code } }]);
  });
  box.append(shown, button, said);
  return box;
}

function drawRating({ question, most, thanks, does }: BlockOf<'rating'>, context: Context, id: string): HTMLElement {
  const row = make('div', '', { class: 'rating' });
  const box = group(context.text(question), [row], id);
  for (let points = 1; points <= most; points++) {
    const button = make('button', String(points), { type: 'button', class: 'button quiet', 'aria-label': `${points} / ${most}` });
    context.on(button, 'click', () => {
      if (context.send({ fields: { rating: points } }, does)) thank(box, context.text(thanks));
    });
    row.append(button);
  }
  return box;
}

const LISTS = { paragraphs: undefined, bullets: 'ul', numbers: 'ol' } as const;

function drawRich({ parts }: BlockOf<'rich'>, context: Context): HTMLElement {
  const box = make('div', '', { class: 'rich' });
  for (const { as, lines } of parts) {
    const name = LISTS[as];
    const around = name ? make(name) : box;
    for (const line of lines) {
      const one = make(name ? 'li' : 'p');
      one.append(...line.map((run) => drawRun(run, context)));
      around.append(one);
    }
    if (name) box.append(around);
  }
  return box;
}

function drawRun({ text, bold, italic, link }: Run, context: Context): Node {
  let node: Node = document.createTextNode(context.text(text));
  const wrap = (around: HTMLElement): void => {
    around.append(node);
    node = around;
  };
  if (italic) wrap(make('em'));
  if (bold) wrap(make('strong'));
  if (link) {
    const made = make('a', '', { href: absolute(link) });
    context.on(made, 'click', (event) => {
      if (context.deps.preview) event.preventDefault();
      context.perform([{ kind: 'page', url: link }], { byLink: true });
    });
    wrap(made);
  }
  return node;
}

/** Whoever cannot be asked says nothing against an answer: no form is lost by it. */
async function isGood(base: string, { kind, country }: Field, value: string): Promise<boolean> {
  try {
    const body = JSON.stringify({ kind, value, ...(country ? { country } : {}) });
    const answer = await fetch(`${base}check`, { method: 'POST', body, credentials: 'omit' });
    return ((await answer.json()) as { ok?: unknown }).ok !== false;
  } catch {
    return true;
  }
}

/**
 * Puts in where what is agreed to can be read; before a form is sent, asks whether its emails can be written to and its numbers be rung, where it
 * wants to know.
 */
export const atForm: Deps['atForm'] = (form, { fields }, { deps: { base, preview }, on, text }) => {
  for (const { name, link } of fields) {
    if (!link) continue;
    const made = make('a', text(link.words), { href: absolute(link.url), target: '_blank', rel: 'noopener' });
    if (preview) on(made, 'click', (event) => event.preventDefault());
    (form.elements.namedItem(name) as HTMLElement | null)?.nextSibling?.appendChild(document.createTextNode(' ')).after(made);
  }
  const asked = fields.filter(({ checked }) => checked);
  if (!base || !asked.length) return;
  let isChecked = false;
  let isAsking = false;
  on(form, 'submit', (event) => {
    // What the browser finds is said first, and by itself.
    if (isChecked || !form.checkValidity()) return void (isChecked = false);
    event.preventDefault();
    event.stopImmediatePropagation();
    if (isAsking) return;
    isAsking = true;
    void (async () => {
      const inputs = asked.map(({ name }) => form.elements.namedItem(name) as HTMLInputElement);
      const good = await Promise.all(asked.map(async (field, at) => !inputs[at]?.value || (await isGood(base, field, inputs[at].value))));
      isAsking = false;
      const wrong = good.indexOf(false);
      const input = inputs[wrong];
      if (!input) {
        isChecked = true;
        return form.requestSubmit();
      }
      const error = input.parentElement?.querySelector('.error');
      if (error) error.textContent = text(asked[wrong]?.wrong ?? '?');
      input.setAttribute('aria-invalid', 'true');
      input.focus();
    })();
  });
};
