'use client';

import { CHANNELS, DEVICE_CATEGORIES, WEATHERS } from '@/core/history/visitor';
import type { PeopleCondition } from '@/core/people/condition';
import type { Expr } from '@/core/rules/expr';
import type { TextTest } from '@/core/rules/valueTest';
import { CalendarField } from './CalendarField';
import { ExprEditor } from './ExprEditor';
import type { KindOffer } from './ExprEditor';
import { Choice, NumberField, RangeField, Row, WithinField } from './fields';
import { LocationField } from './LocationField';
import { PatternList } from './PatternList';
import { useRecorded } from './recorded';
import { SourceTests } from './SourceTests';
import { ListField, TestField, TextField, YesNo } from './TestField';
import { Ticks } from './Ticks';
import { WhereList } from './WhereList';

const OFFERS: readonly KindOffer<PeopleCondition>[] = [
  { label: 'Viewed pages', make: () => ({ kind: 'viewed', pages: [{ op: 'like', value: '/' }], times: { min: 1 } }) },
  { label: 'Read pages down to', make: () => ({ kind: 'read', pages: [{ op: 'like', value: '/' }], scroll: 50 }) },
  { label: 'Was engaged for', make: () => ({ kind: 'engaged', seconds: { min: 60 } }) },
  { label: 'Number of visits', make: () => ({ kind: 'visits', times: { min: 2 } }) },
  { label: 'Did an event', make: () => ({ kind: 'did', event: 'booking', times: { min: 1 } }) },
  { label: 'Was away', make: () => ({ kind: 'away', days: { min: 30 } }) },
  { label: 'First came', make: () => ({ kind: 'firstSeen', days: { min: 7 } }) },
  { label: 'Came from', make: () => ({ kind: 'source', of: 'visit', channel: ['email'] }) },
  { label: 'Is in a segment', make: () => ({ kind: 'segment', id: '' }) },
  { label: 'Known or not', make: () => ({ kind: 'known', is: true }) },
  { label: 'Has a trait', make: () => ({ kind: 'trait', key: 'plan', test: { op: 'exists' } }) },
  { label: 'Carries a tag', make: () => ({ kind: 'tagged', tag: '' }) },
  { label: 'Has a score', make: () => ({ kind: 'score', points: { min: 1 } }) },
  { label: 'Answered a campaign', make: () => ({ kind: 'response', campaign: '', outcome: 'dismissed' }) },
  { label: 'Is in a place', make: () => ({ kind: 'location', countries: ['AT'] }) },
  { label: 'Has weather', make: () => ({ kind: 'weather', is: ['snow'] }) },
  { label: 'On days and at hours', make: () => ({ kind: 'calendar', weekdays: [1, 2, 3, 4, 5], zone: 'visitor' }) },
  { label: 'Uses a device', make: () => ({ kind: 'device', category: ['phone'] }) },
  { label: 'Reads a language', make: () => ({ kind: 'language', is: ['de'] }) },
  { label: 'Has a cookie', make: () => ({ kind: 'cookie', name: '', test: { op: 'exists' } }) },
  { label: 'Blocks ads', make: () => ({ kind: 'adBlocker', is: true }) },
  { label: 'Is of the team', make: () => ({ kind: 'team', is: true }) },
  { label: 'Somebody is there to chat', make: () => ({ kind: 'staffed', is: true }) },
];

const PEOPLE = ['people'];

/** `unset` says what "within" means where a condition does not name it. */
export function PeopleEditor({
  value,
  onChange,
  unset,
  self,
}: {
  value: Expr<PeopleCondition>;
  onChange: (value: Expr<PeopleCondition>) => void;
  unset: string;
  self?: string;
}) {
  return (
    <ExprEditor<PeopleCondition>
      label="People"
      path={PEOPLE}
      value={value}
      onChange={onChange}
      offers={OFFERS}
      joins={{ all: 'all of these', any: 'any of these', none: 'none of these' }}
      colour="var(--people)"
      renderLeaf={(leaf, change) => <Condition value={leaf} onChange={change} unset={unset} self={self} />}
    />
  );
}

function Condition({
  value,
  onChange,
  unset,
  self,
}: {
  value: PeopleCondition;
  onChange: (value: PeopleCondition) => void;
  unset: string;
  self: string | undefined;
}) {
  const { segments, campaigns } = useRecorded();
  switch (value.kind) {
    case 'viewed':
      return (
        <div className="grid gap-1.5">
          <Row>
            <b>viewed</b>
            <HowOften value={value} unset={unset} onChange={onChange} />
          </Row>
          <PatternList label="Page" value={value.pages ?? []} empty="any page" onChange={(pages) => onChange({ ...value, pages })} />
        </div>
      );
    case 'read':
      return (
        <div className="grid gap-1.5">
          <Row>
            <b>read down to</b>
            <NumberField label="Percent" value={value.scroll} min={1} max={100} onChange={(scroll) => onChange({ ...value, scroll })} /> %
            <HowOften value={value} unset={unset} onChange={onChange} />
          </Row>
          <PatternList label="Page" value={value.pages ?? []} empty="any page" onChange={(pages) => onChange({ ...value, pages })} />
        </div>
      );
    case 'visits':
      return (
        <Row>
          <b>made</b>
          <RangeField label="Visits" value={value.times} least={0} most={1000} onChange={(times) => onChange({ ...value, times })} /> visits
          <WithinField value={value.within} unset={unset} onChange={(within) => onChange({ ...value, within })} />
        </Row>
      );
    case 'did':
      return (
        <div className="grid gap-1.5">
          <Row>
            <b>did</b>
            <TextField label="Event" value={value.event} list="events" onChange={(event) => onChange({ ...value, event })} />
            <HowOften value={value} unset={unset} onChange={onChange} />
          </Row>
          <WhereList
            value={value.where ?? []}
            onChange={(where) => onChange(where.length ? { ...value, where } : without(value, 'where'))}
          />
        </div>
      );
    case 'engaged':
      return (
        <div className="grid gap-1.5">
          <Row>
            <b>was engaged for</b>
            <RangeField
              label="Seconds"
              value={value.seconds}
              least={0}
              most={100_000}
              onChange={(seconds) => onChange({ ...value, seconds })}
            />{' '}
            s
            <WithinField value={value.within} unset={unset} onChange={(within) => onChange({ ...value, within })} />
          </Row>
          <PatternList label="Page" value={value.pages ?? []} empty="any page" onChange={(pages) => onChange({ ...value, pages })} />
        </div>
      );
    case 'away':
    case 'firstSeen':
      return (
        <Row>
          <b>{value.kind === 'away' ? 'came back after' : 'first came'}</b>
          <RangeField label="Days" value={value.days} least={0} most={540} onChange={(days) => onChange({ ...value, days })} />
          {value.kind === 'away' ? 'days away' : 'days ago'}
        </Row>
      );
    case 'trait':
      return (
        <Row>
          <b>trait</b>
          <TextField label="Trait" value={value.key} list="traits" width="w-32" onChange={(key) => onChange({ ...value, key })} />
          <TestField label="Value" value={value.test} numbers onChange={(test) => onChange({ ...value, test })} />
        </Row>
      );
    case 'tagged':
      return (
        <Row>
          <b>carries the tag</b>
          <TextField label="Tag" value={value.tag} list="tags" onChange={(tag) => onChange({ ...value, tag })} />
        </Row>
      );
    case 'score':
      return (
        <Row>
          <b>has</b>
          <RangeField
            label="Points"
            value={value.points}
            least={-100_000}
            most={100_000}
            onChange={(points) => onChange({ ...value, points })}
          />{' '}
          points
        </Row>
      );
    case 'response':
      return (
        <Row>
          <Choice
            label="Outcome"
            value={value.outcome}
            options={[
              ['shown', 'was shown'],
              ['clicked', 'clicked in'],
              ['dismissed', 'dismissed'],
              ['converted', 'converted in'],
              ['replied', 'replied in'],
            ]}
            onChange={(outcome) => onChange({ ...value, outcome })}
          />
          <Choice
            label="Campaign"
            value={value.campaign}
            options={[
              ['', 'choose a campaign'],
              ...campaigns.map(({ id, name }) => [id, name] as const),
              ...(value.campaign && !campaigns.some(({ id }) => id === value.campaign)
                ? [[value.campaign, `${value.campaign} (deleted)`] as const]
                : []),
            ]}
            onChange={(campaign) => onChange({ ...value, campaign })}
          />
          <HowOften value={value} unset={unset} onChange={onChange} />
        </Row>
      );
    case 'location':
      return <LocationField value={value} onChange={onChange} />;
    case 'weather':
      return (
        <Row>
          <b>weather</b>
          <Ticks label="Weather" options={WEATHERS} value={value.is ?? []} onChange={(is) => onChange(withList(value, 'is', is))} />
          {value.celsius ? (
            <>
              <RangeField
                label="Degrees"
                value={value.celsius}
                least={-60}
                most={60}
                onChange={(celsius) => onChange({ ...value, celsius })}
              />{' '}
              °C
            </>
          ) : (
            <button className="text-soft hover:text-ink" onClick={() => onChange({ ...value, celsius: { max: 0 } })}>
              and a temperature
            </button>
          )}
        </Row>
      );
    case 'calendar':
      return <CalendarField value={value} onChange={onChange} />;
    case 'language':
      return (
        <Row>
          <b>reads</b>
          <ListField label="Language" value={value.is} list="languages" width="w-40" onChange={(is) => onChange({ ...value, is })} />
          <span className="text-soft">“de” is any German, “de-AT” the Austrian</span>
        </Row>
      );
    case 'cookie':
      return (
        <Row>
          <b>cookie</b>
          <TextField label="Cookie" value={value.name} width="w-32" onChange={(name) => onChange({ ...value, name })} />
          <TestField label="Value" value={value.test} onChange={(test) => onChange({ ...value, test: test as TextTest })} />
        </Row>
      );
    case 'adBlocker':
      return (
        <Row>
          <YesNo
            label="Ad blocker"
            value={value.is}
            yes="blocks ads"
            no="does not block ads"
            onChange={(is) => onChange({ kind: 'adBlocker', is })}
          />
        </Row>
      );
    case 'team':
      return (
        <Row>
          <YesNo
            label="Team"
            value={value.is}
            yes="is of the team"
            no="is not of the team"
            onChange={(is) => onChange({ kind: 'team', is })}
          />
        </Row>
      );
    case 'staffed':
      return (
        <Row>
          <YesNo
            label="Staffed"
            value={value.is}
            yes="while somebody is there to chat"
            no="while nobody is there to chat"
            onChange={(is) => onChange({ kind: 'staffed', is })}
          />
        </Row>
      );
    case 'known':
      return (
        <Row>
          <Choice
            label="Known"
            value={value.is ? 'yes' : 'no'}
            options={[
              ['yes', 'are known'],
              ['no', 'are not known yet'],
            ]}
            onChange={(next) => onChange({ kind: 'known', is: next === 'yes' })}
          />
          <span className="text-soft">an email or a customer id is on record</span>
        </Row>
      );
    case 'source':
      return (
        <div className="grid gap-1.5">
          <Row>
            <Choice
              label="Which visit"
              value={value.of ?? 'visit'}
              options={[
                ['visit', 'came now'],
                ['first', 'first came'],
                ['ever', 'ever came'],
              ]}
              onChange={(of) => onChange({ ...value, of })}
            />
            from{' '}
            <Ticks
              label="Channel"
              options={CHANNELS}
              value={value.channel ?? []}
              onChange={(channel) => onChange(withList(value, 'channel', channel))}
            />
          </Row>
          <SourceTests value={value} onChange={onChange} />
        </div>
      );
    case 'device':
      return (
        <Row>
          <b>use</b>
          <Ticks
            label="Device"
            options={DEVICE_CATEGORIES}
            value={value.category ?? []}
            onChange={(category) => onChange(withList(value, 'category', category))}
          />
        </Row>
      );
    case 'segment':
      return (
        <Row>
          <b>are in</b>
          <Choice
            label="Segment"
            value={value.id}
            options={[
              ['', 'choose a segment'],
              ...segments.filter(({ id }) => id !== self).map(({ id, name }) => [id, name] as const),
              ...(value.id && !segments.some(({ id }) => id === value.id) ? [[value.id, `${value.id} (deleted)`] as const] : []),
            ]}
            onChange={(id) => onChange({ kind: 'segment', id })}
          />
        </Row>
      );
  }
}

type Counted = Extract<PeopleCondition, { kind: 'viewed' | 'read' | 'did' | 'response' }>;

/** How many times, and how far back: what all conditions that count have in common. */
function HowOften<C extends Counted>({ value, unset, onChange }: { value: C; unset: string; onChange: (value: C) => void }) {
  return (
    <>
      <RangeField
        label="Times"
        value={value.times ?? { min: 1 }}
        least={0}
        most={1000}
        allowNever
        onChange={(times) => onChange({ ...value, times })}
      />
      {value.times?.max === 0 ? '' : 'times'}
      <WithinField value={value.within} unset={unset} onChange={(within) => onChange({ ...value, within })} />
    </>
  );
}

/** The condition without one of its parts. */
function without<C extends PeopleCondition>(condition: C, key: keyof C): C {
  const { [key]: _dropped, ...rest } = condition;
  return rest as C;
}

/** An empty list would match nobody: taking the last tick away drops the part instead. */
function withList<C extends PeopleCondition, K extends keyof C>(condition: C, key: K, list: readonly string[]): C {
  const { [key]: _dropped, ...rest } = condition;
  return (list.length ? { ...rest, [key]: list } : rest) as C;
}
