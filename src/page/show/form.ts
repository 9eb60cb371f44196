import type { BlockOf } from '@/core/messages/block';
import type { Field } from '@/core/messages/field';
import type { Context } from './context';
import { make, thank } from './element';

const INPUTS: Partial<Record<Field['kind'], { type: string; autocomplete: string }>> = {
  text: { type: 'text', autocomplete: 'off' },
  email: { type: 'email', autocomplete: 'email' },
  phone: { type: 'tel', autocomplete: 'tel' },
  number: { type: 'number', autocomplete: 'off' },
  date: { type: 'date', autocomplete: 'off' },
};

interface Asked {
  readonly field: Field;
  readonly element: HTMLElement;
  readonly inputs: readonly (HTMLInputElement | HTMLSelectElement)[];
  readonly error: HTMLElement;
}

/** All fields at once. The browser checks the answers and says what is wrong in the visitor's own language. */
export function drawForm(block: BlockOf<'form'>, context: Context, id: string): HTMLElement {
  const form = make('form', '', { novalidate: '' });
  const asked = block.fields.map((field, index) => ask(field, `${id}f${index}`, context));
  // People do not see this field, and programs that fill in everything do.
  const trap = make('input', '', { name: 'website', tabindex: '-1', autocomplete: 'off', 'aria-hidden': 'true', class: 'trap' });
  form.append(
    ...asked.map(({ element }) => element),
    trap,
    make('button', context.text(block.submit), { type: 'submit', class: 'button' }),
  );
  context.deps.atForm?.(form, block, context);
  context.on(form, 'submit', (event) => {
    event.preventDefault();
    const wrong = asked.filter((one) => !check(one));
    if (wrong[0]) return wrong[0].inputs[0]?.focus();
    if (trap.value) return thank(form, context.text(block.thanks));
    const fields: Record<string, string | number | boolean> = {};
    for (const { field, inputs } of asked) {
      const answer = answerOf(field, inputs);
      if (answer !== '') fields[field.name] = answer;
    }
    const email = asked.find(({ field }) => field.kind === 'email');
    const address = email && fields[email.field.name];
    if (context.send({ ...(typeof address === 'string' ? { email: address } : {}), fields }, block.does))
      thank(form, context.text(block.thanks));
  });
  return form;
}

function ask(field: Field, id: string, context: Context): Asked {
  const error = make('p', '', { id: `${id}e`, class: 'error', role: 'alert' });
  const label = context.text(field.label);
  const common = { name: field.name, 'aria-describedby': `${id}e`, ...(field.required ? { required: '' } : {}) };
  if (field.kind === 'choices' || field.kind === 'consent') {
    const ticks = (field.kind === 'consent' ? [label] : (field.options ?? [])).map((option, index) => {
      const input = make('input', '', {
        type: 'checkbox',
        id: `${id}${index}`,
        value: option,
        name: field.name,
        'aria-describedby': `${id}e`,
        // Of several choices any one will do; the browser cannot say that of tick boxes.
        ...(field.required && field.kind === 'consent' ? { required: '' } : {}),
      });
      const line = make('label', '', { class: 'tick', for: `${id}${index}` });
      line.append(input, make('span', option));
      return { input, line };
    });
    const element = field.kind === 'consent' ? make('div') : make('fieldset');
    if (field.kind === 'choices') element.append(make('legend', label));
    element.append(...ticks.map(({ line }) => line), error);
    return { field, element, inputs: ticks.map(({ input }) => input), error };
  }
  const element = make('div');
  const input =
    field.kind === 'choice'
      ? make('select', '', { id, ...common })
      : make('input', '', { id, maxlength: '2000', ...common, ...limits(field) });
  if (field.kind === 'choice') for (const option of ['', ...(field.options ?? [])]) input.append(make('option', option, { value: option }));
  element.append(make('label', label, { for: id }), input, error);
  return { field, element, inputs: [input], error };
}

function limits({ kind, pattern, min, max }: Field): Record<string, string> {
  return {
    ...INPUTS[kind],
    ...(pattern ? { pattern } : {}),
    ...(min === undefined ? {} : { min: String(min) }),
    ...(max === undefined ? {} : { max: String(max) }),
    ...(kind === 'number' ? { step: 'any' } : {}),
  };
}

function check({ field, inputs, error }: Asked): boolean {
  for (const input of inputs) if (/^(text|email|tel|url)$/.test(input.type)) input.value = input.value.trim();
  const isMissing = field.kind === 'choices' && field.required && !inputs.some((input) => (input as HTMLInputElement).checked);
  const wrong = inputs.find((input) => !input.checkValidity());
  error.textContent = wrong ? wrong.validationMessage : isMissing ? '…' : '';
  for (const input of inputs) {
    if (wrong ?? isMissing) input.setAttribute('aria-invalid', 'true');
    else input.removeAttribute('aria-invalid');
  }
  return error.textContent === '';
}

function answerOf({ kind }: Field, inputs: Asked['inputs']): string | number | boolean {
  const [first] = inputs;
  if (kind === 'consent') return (first as HTMLInputElement).checked;
  if (kind === 'choices')
    return inputs
      .filter((input) => (input as HTMLInputElement).checked)
      .map(({ value }) => value)
      .join(', ');
  const value = first?.value ?? '';
  return kind === 'number' && value !== '' ? Number(value) : value;
}
