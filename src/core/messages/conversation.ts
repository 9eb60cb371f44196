import { z } from 'zod';
import { actionsSchema } from './action';
import { idSchema } from './bounds';

const words = (most: number) => z.string().min(1).max(most);
const field = () => z.string().regex(/^[a-z][a-z0-9_]{0,59}$/i);
const QUESTIONS = ['text', 'email', 'phone', 'number', 'date'] as const;

/** `then` names the next step; without one the next in the list follows, and after the last the conversation is over. */
const asksSchema = () =>
  z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('choice'), field: field(), options: z.array(optionSchema()).min(2).max(10) }),
    ...QUESTIONS.map((kind) => z.strictObject({ kind: z.literal(kind), field: field(), optional: z.boolean().optional() })),
  ]);
const optionSchema = () => z.strictObject({ label: words(100), then: idSchema().optional(), does: actionsSchema().optional() });

export const END = 'end';

export const stepSchema = () =>
  z.strictObject({
    id: idSchema(),
    says: words(1000),
    asks: asksSchema().optional(),
    then: idSchema().optional(),
    does: actionsSchema().optional(),
  });
export type ConversationStep = z.infer<ReturnType<typeof stepSchema>>;

/** A script of a conversation: it begins with the first step, asks one thing at a time and goes on by the answer. */
export const conversationSchema = () =>
  z.strictObject({
    steps: z.array(stepSchema()).min(1).max(60),
    /** After the script the visitor may write to somebody of the team. */
    person: z
      .strictObject({
        /** Said where nobody is here. */
        nobody: words(500).optional(),
        /** Whether they are asked for an email then. */
        asksEmail: z.boolean().optional(),
        /** Whether they are offered a copy by mail once it is closed. */
        copy: z.boolean().optional(),
      })
      .optional(),
  });
export type Conversation = z.infer<ReturnType<typeof conversationSchema>>;

/** The step that follows an answer (the label of an option where the step gives options); undefined when it is over. */
export function stepAfter({ steps }: Conversation, step: ConversationStep, answer: string): ConversationStep | undefined {
  const option = step.asks?.kind === 'choice' ? step.asks.options.find(({ label }) => label === answer) : undefined;
  const then = option?.then ?? step.then;
  if (then === END) return undefined;
  return then === undefined ? steps[steps.indexOf(step) + 1] : steps.find(({ id }) => id === then);
}

/** Every step that may follow one, `end` for none. */
export function followers(conversation: Conversation, step: ConversationStep): string[] {
  const { steps } = conversation;
  const next = steps[steps.indexOf(step) + 1]?.id ?? END;
  if (step.asks?.kind !== 'choice') return [step.then ?? next];
  return step.asks.options.map(({ then }) => then ?? step.then ?? next);
}
