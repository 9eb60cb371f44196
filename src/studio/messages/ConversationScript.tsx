'use client';

import type { Sender } from '@/core/brand/brand';
import { Plus, X } from 'lucide-react';
import { withValue } from '@/core/flows/edit';
import type { ConversationStep } from '@/core/messages/conversation';
import { END } from '@/core/messages/conversation';
import type { MessageOf } from '@/core/messages/message';
import { Choice } from '../rule/fields';
import {} from './Actions';
import { Text, Words } from './fields';

type Asks = NonNullable<ConversationStep['asks']>;

const ASKS: readonly (readonly [Asks['kind'] | 'nothing', string])[] = [
  ['nothing', 'says only this'],
  ['choice', 'asks for one of these'],
  ['text', 'asks for words'],
  ['email', 'asks for an email'],
  ['phone', 'asks for a phone number'],
  ['number', 'asks for a number'],
  ['date', 'asks for a date'],
];

/** A conversation as a script: what is said, what it asks, and where each answer leads. */
export function ConversationScript({
  message,
  senders,
  onChange,
}: {
  message: MessageOf<'chat'>;
  messages: readonly string[];
  /** Of the site's brand. */
  senders: readonly Sender[];
  onChange: (message: MessageOf<'chat'>) => void;
}) {
  const { steps, person } = message.conversation;
  const put = (next: readonly ConversationStep[]): void =>
    onChange({ ...message, conversation: { ...message.conversation, steps: [...next] } });
  const setPerson = (next: typeof person): void => {
    const { person: _before, ...rest } = message.conversation;
    onChange({ ...message, conversation: next ? { ...rest, person: next } : rest });
  };
  const set = (index: number, step: ConversationStep): void => put(steps.map((one, nth) => (nth === index ? step : one)));
  const where = steps.map(({ id, says }) => [id, `to “${says.length > 24 ? `${says.slice(0, 24)}…` : says}”`] as const);
  const freshId = (): string => {
    for (let number = steps.length + 1; ; number++) if (!steps.some(({ id }) => id === `step-${number}`)) return `step-${number}`;
  };
  /** What led to it ends instead. */
  const takeOut = (gone: string): void =>
    put(
      steps
        .filter(({ id }) => id !== gone)
        .map((step) => ({
          ...step,
          ...(step.then === gone ? { then: END } : {}),
          ...(step.asks?.kind === 'choice'
            ? {
                asks: {
                  ...step.asks,
                  options: step.asks.options.map((option) => (option.then === gone ? { ...option, then: END } : option)),
                },
              }
            : {}),
        })),
    );
  return (
    <section aria-label={`Script of ${message.id}`} className="mt-3 grid gap-2 border-t border-line pt-3 text-sm">
      <div className="flex flex-wrap items-center gap-2 text-soft">
        Spoken by
        <Words
          label="Sender"
          most={80}
          value={message.sender.name}
          onChange={(name) => onChange(withValue(message, ['sender', 'name'], name))}
        />
        <Text
          label="Role"
          value={message.sender.role ?? ''}
          placeholder="no role"
          onChange={(role) => onChange(withValue(message, ['sender', 'role'], role || undefined))}
        />
        {senders.length > 0 && (
          <select
            aria-label="One of the brand’s"
            className="field"
            value={senders.findIndex((one) => JSON.stringify(one) === JSON.stringify(message.sender))}
            onChange={({ target }) => onChange({ ...message, sender: senders[Number(target.value)] ?? message.sender })}
          >
            <option value={-1}>as written here</option>
            {senders.map(({ name, role }, index) => (
              <option key={index} value={index}>
                {name}
                {role && `, ${role}`}
              </option>
            ))}
          </select>
        )}
      </div>
      <ol className="grid gap-3">
        {steps.map((step, index) => (
          <li key={step.id} className="grid gap-1.5 border-s-2 border-line ps-3">
            <div className="flex items-start gap-2">
              <textarea
                aria-label={`What step ${index + 1} says`}
                className="field min-w-0 flex-1 [field-sizing:content]"
                rows={1}
                maxLength={1000}
                value={step.says}
                onChange={({ target }) => set(index, { ...step, says: target.value })}
              />
              <button
                aria-label={`Take step ${index + 1} out`}
                disabled={steps.length === 1}
                className="rounded p-1.5 text-soft enabled:hover:text-danger disabled:opacity-40"
                onClick={() => takeOut(step.id)}
              >
                <X size={14} aria-hidden="true" />
              </button>
            </div>
            <div className="flex flex-wrap items-center gap-2">
              <Choice
                label={`What step ${index + 1} asks`}
                value={step.asks?.kind ?? 'nothing'}
                options={ASKS}
                onChange={(kind) => set(index, withAsks(step, kind))}
              />
              {step.asks && (
                <>
                  kept as
                  <input
                    aria-label={`What the answer to step ${index + 1} is kept as`}
                    className="field w-28 font-mono text-[13px]"
                    maxLength={60}
                    value={step.asks.field}
                    onChange={({ target }) => set(index, { ...step, asks: { ...step.asks, field: target.value } as Asks })}
                  />
                </>
              )}
              {step.asks?.kind !== 'choice' && (
                <Then
                  label={`After step ${index + 1}`}
                  value={step.then}
                  where={where}
                  own={step.id}
                  onChange={(then) => set(index, withThen(step, then))}
                />
              )}
            </div>
            {step.asks?.kind === 'choice' && (
              <Options step={step} asks={step.asks} nth={index + 1} where={where} onChange={(asks) => set(index, { ...step, asks })} />
            )}
          </li>
        ))}
      </ol>
      {steps.length < 60 && (
        <button className="act-quiet justify-self-start" onClick={() => put([...steps, { id: freshId(), says: 'And then?' }])}>
          <Plus size={14} aria-hidden="true" /> Another step
        </button>
      )}
      <div className="grid gap-2 border-s-2 border-line ps-3">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={person !== undefined}
            onChange={({ target }) => setPerson(target.checked ? { asksEmail: true } : undefined)}
          />
          then visitors may write to a person of the team
        </label>
        {person && (
          <>
            <label className="flex flex-wrap items-center gap-2 text-soft">
              where nobody is here it says
              <Text
                label="Where nobody is here"
                value={person.nobody ?? ''}
                placeholder="Nobody is here just now."
                onChange={(nobody) => setPerson(withGiven({ ...person, nobody }))}
              />
            </label>
            <label className="flex items-center gap-2 text-soft">
              <input
                type="checkbox"
                checked={person.asksEmail === true}
                onChange={({ target }) => setPerson(withGiven({ ...person, asksEmail: target.checked }))}
              />
              and asks for an email
            </label>
            <label className="flex items-center gap-2 text-soft">
              <input
                type="checkbox"
                checked={person.copy === true}
                onChange={({ target }) => setPerson(withGiven({ ...person, copy: target.checked }))}
              />
              offers a copy by mail once it is closed
            </label>
          </>
        )}
      </div>
    </section>
  );
}

type Person = NonNullable<MessageOf<'chat'>['conversation']['person']>;

/** What is empty or off is left out. */
const withGiven = (person: Person): Person => Object.fromEntries(Object.entries(person).filter(([, value]) => Boolean(value)));

function withAsks({ asks, ...step }: ConversationStep, kind: Asks['kind'] | 'nothing'): ConversationStep {
  if (kind === 'nothing') return step;
  const field = asks?.field ?? step.id.replace(/[^a-z0-9_]/gi, '_').replace(/^[^a-z]+/i, '');
  if (kind === 'choice') return { ...step, asks: { kind, field: field || 'answer', options: [{ label: 'Yes' }, { label: 'No' }] } };
  return { ...step, asks: { kind, field: field || 'answer' } };
}

function withThen<T extends { then?: string | undefined }>({ then: _before, ...rest }: T, then: string): T {
  return (then === '' ? rest : { ...rest, then }) as T;
}

function Then({
  label,
  value = '',
  where,
  own,
  onChange,
}: {
  label: string;
  value: string | undefined;
  where: readonly (readonly [string, string])[];
  own: string;
  onChange: (then: string) => void;
}) {
  const isKnown = value === '' || value === END || where.some(([id]) => id === value);
  return (
    <span className="inline-flex items-center gap-1.5">
      then
      <Choice
        label={label}
        value={value}
        options={[
          ['', 'on to the next'],
          ...where.filter(([id]) => id !== own),
          [END, 'it ends'],
          ...(isKnown ? [] : [[value, `${value} (not there)`] as const]),
        ]}
        onChange={onChange}
      />
    </span>
  );
}

function Options({
  step,
  asks,
  nth,
  where,
  onChange,
}: {
  step: ConversationStep;
  asks: Extract<Asks, { kind: 'choice' }>;
  nth: number;
  where: readonly (readonly [string, string])[];
  onChange: (asks: Asks) => void;
}) {
  const { options } = asks;
  const put = (next: typeof options): void => onChange({ ...asks, options: next });
  return (
    <ul className="grid gap-1.5">
      {options.map((option, index) => (
        <li key={index} className="flex flex-wrap items-center gap-2 ps-4 [&>input]:basis-full">
          <Words
            label={`Answer ${index + 1} of step ${nth}`}
            most={100}
            value={option.label}
            onChange={(label) => put(options.with(index, { ...option, label }))}
          />
          <Then
            label={`After answer ${index + 1} of step ${nth}`}
            value={option.then}
            where={where}
            own={step.id}
            onChange={(then) => put(options.with(index, withThen(option, then)))}
          />
          <button
            aria-label={`Take answer ${index + 1} of step ${nth} out`}
            disabled={options.length <= 2}
            className="rounded p-1.5 text-soft enabled:hover:text-danger disabled:opacity-40"
            onClick={() => put(options.toSpliced(index, 1))}
          >
            <X size={14} aria-hidden="true" />
          </button>
        </li>
      ))}
      {options.length < 10 && (
        <li className="ps-4">
          <button className="act-quiet" onClick={() => put([...options, { label: 'Something else' }])}>
            <Plus size={14} aria-hidden="true" /> Another answer
          </button>
        </li>
      )}
    </ul>
  );
}
