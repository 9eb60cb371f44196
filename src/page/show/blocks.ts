import type { Block, FormBlock } from '@/core/messages/message';
import type { Sent } from './show';

interface Actions {
  readonly onClick: () => void;
  readonly onClose: () => void;
  readonly onSend: (sent: Sent) => void;
}

export function drawBlock(block: Block, index: number, actions: Actions): HTMLElement {
  switch (block.kind) {
    case 'heading':
      return element('h2', block.text);
    case 'text':
      return element('p', block.text);
    case 'button':
      return drawButton(block, actions);
    case 'form':
      return drawForm(block, index, actions);
  }
}

function element<K extends keyof HTMLElementTagNameMap>(
  name: K,
  text = '',
  attributes: Record<string, string> = {},
): HTMLElementTagNameMap[K] {
  const made = document.createElement(name);
  if (text) made.textContent = text;
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

function drawButton({ label, action }: Extract<Block, { kind: 'button' }>, { onClick, onClose }: Actions): HTMLElement {
  if (action.kind === 'page') {
    const link = element('a', label, { href: action.url, class: 'button' });
    link.addEventListener('click', onClick);
    return link;
  }
  const button = element('button', label, { type: 'button', class: 'button quiet' });
  button.addEventListener('click', onClose);
  return button;
}

function drawForm({ field, label, submit, thanks }: FormBlock, index: number, { onSend }: Actions): HTMLElement {
  const id = `field${index}`;
  const form = element('form', '', { novalidate: '' });
  const input = element('input', '', {
    id,
    name: field,
    type: field,
    required: '',
    maxlength: '320',
    autocomplete: field === 'email' ? 'email' : 'off',
    'aria-describedby': `${id}-error`,
  });
  const error = element('p', '', { id: `${id}-error`, class: 'error', role: 'alert' });
  form.append(element('label', label, { for: id }), input, error, element('button', submit, { type: 'submit', class: 'button' }));
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    const value = input.value.trim();
    input.value = value;
    if (!input.checkValidity()) {
      // The browser's own words are in the visitor's language.
      error.textContent = input.validationMessage;
      input.setAttribute('aria-invalid', 'true');
      input.focus();
      return;
    }
    onSend({ ...(field === 'email' ? { email: value } : {}), fields: { [field]: value } });
    const done = element('p', thanks, { role: 'status', tabindex: '-1', class: 'thanks' });
    form.replaceWith(done);
    done.focus();
  });
  return form;
}
