import type { Flow } from '../flows/flow';
import { allBlocks } from '../messages/block';
import type { Field } from '../messages/field';

/** What somebody agreed to, in the words that stood beside it. */
export interface Agreed {
  readonly name: string;
  readonly words: string;
}

/** By the names of a flow's form fields what stood beside them. */
export function fieldLabels(flow: Flow): Readonly<Record<string, string>> {
  return Object.fromEntries(formFields(flow).map(({ name, label }) => [name, label]));
}

/** All fields of a flow's forms. */
export const formFields = (flow: Flow): readonly Field[] =>
  flow.messages
    .flatMap((message) => ('blocks' in message ? allBlocks(message.blocks) : []))
    .flatMap((block) => (block.kind === 'form' ? block.fields : []));

/** Of the answers of a form what was agreed to, by the flow that it stood in: fields of consent that were ticked. */
export function agreedIn(flow: Flow, fields: Readonly<Record<string, unknown>>): Agreed[] {
  const found = new Map<string, string>();
  for (const { kind, name, label, link } of formFields(flow))
    if (kind === 'consent' && fields[name] === true) found.set(name, link ? `${label} ${link.words} (${link.url})` : label);
  return [...found].map(([name, words]) => ({ name, words }));
}
