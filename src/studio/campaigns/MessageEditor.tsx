'use client';

import type { CampaignDocument, Goal } from '@/core/campaigns/campaign';
import { startOf } from '@/core/flows/flow';
import type { Block, BlockOf } from '@/core/messages/block';
import { BLOCK_KINDS, blockKindOf } from '@/core/messages/block';
import type { Message } from '@/core/messages/message';
import { useState } from 'react';
import { Choice, NumberField, Row } from '../rule/fields';
import { PatternList } from '../rule/PatternList';
import { Preview } from './Preview';

type Written = Extract<Message, { blocks: unknown }>;
type Kind = 'heading' | 'text' | 'form' | 'buttons';

const NAMES: Readonly<Record<Message['format'], string>> = {
  popup: 'pop-up',
  banner: 'banner',
  chat: 'chat message',
  inset: 'inset',
  tab: 'tab',
  quiet: 'quiet action',
};

/** The messages of a campaign's flow, one at a time: their words, and a preview. */
export function MessageEditor({ campaign, onChange }: { campaign: CampaignDocument; onChange: (campaign: CampaignDocument) => void }) {
  const { flow } = campaign;
  const [chosen, choose] = useState(flow.start);
  const message = flow.messages.find(({ id }) => id === chosen) ?? startOf(flow);
  const put = (next: Message): void =>
    onChange({ ...campaign, flow: { ...flow, messages: flow.messages.map((one) => (one.id === next.id ? next : one)) } });
  return (
    <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(380px,1fr)]">
      <div className="sheet grid content-start gap-4 p-5">
        {flow.messages.length > 1 && (
          <Row>
            <b>Message</b>
            <Choice
              label="Message of the flow"
              value={message.id}
              options={flow.messages.map(({ id, format }) => [id, `${id}, a ${NAMES[format]}`] as const)}
              onChange={choose}
            />
          </Row>
        )}
        {'blocks' in message ? (
          <Words message={message} onChange={put} />
        ) : (
          <p className="text-soft">
            {message.format === 'quiet'
              ? 'A quiet action shows nothing.'
              : `The words of a ${NAMES[message.format]} are changed through its JSON.`}
          </p>
        )}
        <GoalEditor goal={campaign.goal} onChange={(goal) => onChange({ ...campaign, goal })} />
      </div>
      <Preview key={message.id} flow={flow} start={message.id} />
    </div>
  );
}

function Words({ message, onChange }: { message: Written; onChange: (message: Message) => void }) {
  const set = (next: object): void => onChange({ ...message, ...next });
  const blockOf = <K extends Kind>(kind: K): BlockOf<K> | undefined =>
    message.blocks.find((block): block is BlockOf<K> => block.kind === kind);
  const put = (block: Block): void => {
    const at = message.blocks.findIndex(({ kind }) => kind === block.kind);
    if (at >= 0) return set({ blocks: message.blocks.with(at, block) });
    set({ blocks: [...message.blocks, block].sort((a, b) => blockKindOf(a).rank - blockKindOf(b).rank) });
  };
  const drop = (kind: Kind): void => set({ blocks: message.blocks.filter((block) => block.kind !== kind) });
  const form = blockOf('form');
  const buttons = blockOf('buttons');
  const [field] = form?.fields ?? [];
  const [button] = buttons?.buttons ?? [];
  const leadsTo = button?.does.find((action) => action.kind === 'page');
  return (
    <>
      <Labelled label="Heading">
        <input
          className="field"
          value={blockOf('heading')?.text ?? ''}
          maxLength={200}
          onChange={(event) => put({ kind: 'heading', text: event.target.value })}
        />
      </Labelled>
      <Labelled label="Text">
        <textarea
          className="field"
          rows={3}
          value={blockOf('text')?.text ?? ''}
          maxLength={2000}
          onChange={(event) => put({ kind: 'text', text: event.target.value })}
        />
      </Labelled>
      <Tick
        label="Ask for an answer"
        checked={form !== undefined}
        onChange={(isOn) => (isOn ? put(BLOCK_KINDS.form.make()) : drop('form'))}
      />
      {form && field && (
        <div className="grid gap-2 border-l-2 border-line pl-4">
          <Labelled label="Question">
            <input
              className="field"
              value={field.label}
              maxLength={200}
              onChange={(event) => put({ ...form, fields: [{ ...field, label: event.target.value }, ...form.fields.slice(1)] })}
            />
          </Labelled>
          {(['submit', 'thanks'] as const).map((key) => (
            <Labelled key={key} label={{ submit: 'Button', thanks: 'Said afterwards' }[key]}>
              <input
                className="field"
                value={form[key]}
                maxLength={key === 'submit' ? 100 : 500}
                onChange={(event) => put({ ...form, [key]: event.target.value })}
              />
            </Labelled>
          ))}
        </div>
      )}
      <Tick
        label="A button to a page"
        checked={buttons !== undefined}
        onChange={(isOn) => (isOn ? put(BLOCK_KINDS.buttons.make()) : drop('buttons'))}
      />
      {buttons && button && (
        <div className="grid gap-2 border-l-2 border-line pl-4">
          <Labelled label="Label">
            <input
              className="field"
              value={button.label}
              maxLength={100}
              onChange={(event) => put({ ...buttons, buttons: [{ ...button, label: event.target.value }, ...buttons.buttons.slice(1)] })}
            />
          </Labelled>
          {leadsTo && (
            <Labelled label="Page, such as /offers or https://…">
              <input
                className="field font-mono text-[13px]"
                value={leadsTo.url}
                onChange={(event) =>
                  put({
                    ...buttons,
                    buttons: [
                      {
                        ...button,
                        does: button.does.map((action) => (action === leadsTo ? { ...action, url: event.target.value } : action)),
                      },
                      ...buttons.buttons.slice(1),
                    ],
                  })
                }
              />
            </Labelled>
          )}
        </div>
      )}
      <Labelled label="Colour of buttons">
        <input
          type="color"
          className="h-8 w-16"
          value={message.colour ?? '#2d4a43'}
          onChange={(event) => set({ colour: event.target.value })}
        />
      </Labelled>
      <fieldset className="flex flex-wrap gap-4">
        <legend className="mb-1 font-semibold">Can be closed by</legend>
        {(['button', 'dim', 'escape'] as const)
          .filter((way) => way in message.closes)
          .map((way) => (
            <Tick
              key={way}
              label={{ button: 'its × button', dim: 'a click beside it', escape: 'Escape' }[way]}
              checked={(message.closes as Partial<Record<typeof way, boolean>>)[way] === true}
              onChange={(isOn) => set({ closes: { ...message.closes, [way]: isOn } })}
            />
          ))}
      </fieldset>
    </>
  );
}

function GoalEditor({ goal, onChange }: { goal: Goal; onChange: (goal: Goal) => void }) {
  const start: { readonly [K in Goal['kind']]: Goal } = {
    form: { kind: 'form' },
    page: { kind: 'page', pages: [{ op: 'like', value: '/book/done' }], days: 3 },
    event: { kind: 'event', event: 'booking', days: 3 },
  };
  return (
    <div className="grid gap-2">
      <Row>
        <b>It converts when</b>
        <Choice
          label="Goal"
          value={goal.kind}
          options={[
            ['form', 'the form is sent'],
            ['page', 'a page is reached'],
            ['event', 'an event happens'],
          ]}
          onChange={(kind) => onChange(start[kind])}
        />
        {goal.kind === 'event' && (
          <input
            aria-label="Event"
            className="field w-40 font-mono text-[13px]"
            value={goal.event}
            onChange={(event) => onChange({ ...goal, event: event.target.value })}
          />
        )}
        {goal.kind !== 'form' && (
          <>
            within{' '}
            <NumberField label="Days" value={goal.days} min={1} max={90} width={52} onChange={(days) => onChange({ ...goal, days })} /> days
          </>
        )}
      </Row>
      {goal.kind === 'page' && <PatternList label="Goal page" value={goal.pages} onChange={(pages) => onChange({ ...goal, pages })} />}
    </div>
  );
}

function Labelled({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <label className="grid gap-1 font-semibold [&>*]:font-normal">
      {label}
      {children}
    </label>
  );
}

function Tick({ label, checked, onChange }: { label: string; checked: boolean; onChange: (isOn: boolean) => void }) {
  return (
    <label className="inline-flex items-center gap-2">
      <input type="checkbox" className="h-4 w-4 accent-(--pine)" checked={checked} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}
