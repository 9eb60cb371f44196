import type { Flow } from './flow';

interface SingleMessage {
  readonly format: 'popup' | 'quiet';
  readonly label?: string;
  readonly colour?: string;
  readonly closes: { readonly button: boolean; readonly dim: boolean; readonly escape: boolean };
  readonly blocks: readonly (
    | { readonly kind: 'heading' | 'text'; readonly text: string }
    | { readonly kind: 'form'; readonly field: 'email' | 'text'; readonly label: string; readonly submit: string; readonly thanks: string }
    | {
        readonly kind: 'button';
        readonly label: string;
        readonly action: { readonly kind: 'close' } | { readonly kind: 'page'; readonly url: string };
      }
  )[];
}

/** Before there were flows a campaign had one message, with one field in a form and one button in a row. */
export function singleMessageToFlow({ format, label, colour, closes, blocks }: SingleMessage): Flow {
  const common = { id: 'first', ...(label ? { label } : {}), ...(colour ? { colour } : {}) };
  if (format === 'quiet') return { start: 'first', messages: [{ ...common, format, does: [] }] };
  const upgraded = blocks.map((block) => {
    if (block.kind === 'button')
      return {
        kind: 'buttons' as const,
        buttons: [{ label: block.label, ...(block.action.kind === 'close' ? { quiet: true } : {}), does: [block.action] }],
      };
    if (block.kind !== 'form') return block;
    const { field, label: asked, submit, thanks } = block;
    return { kind: 'form' as const, fields: [{ kind: field, name: field, label: asked, required: true }], submit, thanks };
  });
  return { start: 'first', messages: [{ ...common, format: 'popup', closes, blocks: upgraded }] };
}

/** Brings a campaign's document of any older version to the newest: a `message` becomes a `flow`. */
export function upgradeCampaign(document: unknown): unknown {
  if (typeof document !== 'object' || document === null || !('message' in document) || 'flow' in document) return document;
  const { message, ...rest } = document;
  return { ...rest, flow: singleMessageToFlow(message as SingleMessage) };
}
