'use client';

import type { CampaignDocument, Goal } from '@/core/campaigns/campaign';
import type { Block, Message } from '@/core/messages/message';
import { Choice, NumberField, Row } from '../rule/fields';
import { PatternList } from '../rule/PatternList';
import { Preview } from './Preview';

type Kind = Block['kind'];
type BlockOf<K extends Kind> = Extract<Block, { kind: K }>;

const ORDER: readonly Kind[] = ['heading', 'text', 'form', 'button'];
const START: { readonly [K in Kind]: BlockOf<K> } = {
  heading: { kind: 'heading', text: '' },
  text: { kind: 'text', text: '' },
  form: { kind: 'form', field: 'email', label: 'Your email', submit: 'Send', thanks: 'Thank you.' },
  button: { kind: 'button', label: 'Read more', action: { kind: 'page', url: '/' } },
};

export function MessageEditor({ campaign, onChange }: { campaign: CampaignDocument; onChange: (campaign: CampaignDocument) => void }) {
  const { message } = campaign;
  const set = (next: Partial<Message>): void => onChange({ ...campaign, message: { ...message, ...next } });
  const blockOf = <K extends Kind>(kind: K): BlockOf<K> | undefined =>
    message.blocks.find((block): block is BlockOf<K> => block.kind === kind);
  const put = (block: Block): void => {
    const rest = message.blocks.filter(({ kind }) => kind !== block.kind);
    set({ blocks: [...rest, block].sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind)) });
  };
  const drop = (kind: Kind): void => set({ blocks: message.blocks.filter((block) => block.kind !== kind) });
  const form = blockOf('form');
  const button = blockOf('button');
  return (
    <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(380px,1fr)]">
      <div className="sheet grid content-start gap-4 p-5">
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
        <Tick label="Ask for an answer" checked={form !== undefined} onChange={(isOn) => (isOn ? put(START.form) : drop('form'))} />
        {form && (
          <div className="grid gap-2 border-l-2 border-line pl-4">
            <Row>
              <Choice
                label="Kind of answer"
                value={form.field}
                options={[
                  ['email', 'email'],
                  ['text', 'a line of text'],
                ]}
                onChange={(field) => put({ ...form, field })}
              />
            </Row>
            {(['label', 'submit', 'thanks'] as const).map((key) => (
              <Labelled key={key} label={{ label: 'Question', submit: 'Button', thanks: 'Said afterwards' }[key]}>
                <input
                  className="field"
                  value={form[key]}
                  maxLength={200}
                  onChange={(event) => put({ ...form, [key]: event.target.value })}
                />
              </Labelled>
            ))}
          </div>
        )}
        <Tick label="A button to a page" checked={button !== undefined} onChange={(isOn) => (isOn ? put(START.button) : drop('button'))} />
        {button && (
          <div className="grid gap-2 border-l-2 border-line pl-4">
            <Labelled label="Label">
              <input
                className="field"
                value={button.label}
                maxLength={100}
                onChange={(event) => put({ ...button, label: event.target.value })}
              />
            </Labelled>
            {button.action.kind === 'page' && (
              <Labelled label="Page, such as /offers or https://…">
                <input
                  className="field font-mono text-[13px]"
                  value={button.action.url}
                  onChange={(event) => put({ ...button, action: { kind: 'page', url: event.target.value } })}
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
          {(['button', 'dim', 'escape'] as const).map((way) => (
            <Tick
              key={way}
              label={{ button: 'its × button', dim: 'a click beside it', escape: 'Escape' }[way]}
              checked={message.closes[way]}
              onChange={(isOn) => set({ closes: { ...message.closes, [way]: isOn } })}
            />
          ))}
        </fieldset>
        <GoalEditor goal={campaign.goal} onChange={(goal) => onChange({ ...campaign, goal })} />
      </div>
      <Preview message={message} />
    </div>
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
