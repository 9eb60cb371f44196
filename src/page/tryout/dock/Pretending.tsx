/** @jsxImportSource preact */
import type { ComponentChild } from 'preact';
import { useState } from 'preact/hooks';
import { WEATHERS } from '@/core/history/visitor';
import type { Judged, Pretend } from '@/core/tryout/asked';
import { Picker } from './Picker';

export interface Pretended {
  readonly pretend: Pretend;
  /** How far the clock is ahead, in ms. */
  readonly ahead: number;
  readonly found: Judged['found'] | undefined;
  readonly nameOf: (campaign: string) => string;
}

type Changes = { readonly [K in keyof Pretend]?: Pretend[K] | undefined };
/** Put over what is pretended by then. */
export type Change = (change: Changes | ((pretend: Pretend) => Changes)) => void;

interface Editing extends Pretended {
  readonly change: Change;
  readonly setClock: (ahead: number) => void;
  readonly done: () => void;
}

interface Phrase {
  readonly key: string;
  readonly before: string;
  /** Said only where something of it is pretended, or where more is asked for. */
  readonly isSet?: (pretend: Pretend) => boolean;
  readonly words: (pretended: Pretended) => string;
  readonly edit: (editing: Editing) => ComponentChild;
}

const WEATHER_WORDS = {
  clear: 'the sky is clear',
  cloud: 'it is cloudy',
  fog: 'there is fog',
  rain: 'it rains',
  snow: 'it snows',
  storm: 'it storms',
} as const;

const weekday = (at: Date): string => at.toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });
const hour = (at: Date): string => at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
const two = (number: number): string => String(number).padStart(2, '0');
const localText = (at: Date): string =>
  `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`;

/** One of a few; the chosen one is marked. */
function Few<T>({
  list,
  chosen,
  onPick,
}: {
  list: readonly (readonly [label: string, value: T])[];
  chosen: T;
  onPick: (value: T) => void;
}) {
  return (
    <ul>
      {list.map(([label, value]) => (
        <li key={label}>
          <button type="button" class="choice" aria-pressed={value === chosen} onClick={() => onPick(value)}>
            {label}
          </button>
        </li>
      ))}
    </ul>
  );
}

const yesNo = (
  key: 'known' | 'staffed' | 'team',
  before: string,
  [yes, no, found]: readonly [yes: string, no: string, found: string],
): Phrase => ({
  key,
  before,
  isSet: (pretend) => pretend[key] !== undefined,
  words: ({ pretend }) => (pretend[key] === undefined ? found : pretend[key] ? yes : no),
  edit: ({ pretend, change, done }) => (
    <Few<boolean | undefined>
      list={[
        [found, undefined],
        [yes, true],
        [no, false],
      ]}
      chosen={pretend[key]}
      onPick={(value) => {
        change({ [key]: value });
        done();
      }}
    />
  ),
});

function Back({ label, onBack }: { label: string; onBack: () => void }) {
  return (
    <button type="button" class="choice" onClick={onBack}>
      {label}
    </button>
  );
}

const sourceWords = ({ channel, utm, referrer }: NonNullable<Pretend['source']>): string =>
  [utm.source ?? referrer ?? channel, utm.campaign && `(${utm.campaign})`].filter(Boolean).join(' ');

const PHRASES: readonly Phrase[] = [
  {
    key: 'visitor',
    before: 'You are ',
    words: ({ pretend }) => (pretend.visitor === undefined ? 'a new visitor' : `visitor ${pretend.visitor}, and go on`),
    edit: ({ change, done }) => (
      <>
        <Back
          label="a new visitor"
          onBack={() => {
            change({ visitor: undefined });
            done();
          }}
        />
        <Picker
          of="visitors"
          label="A recorded visitor, by number"
          onPick={({ value }) => {
            change({ visitor: value as number });
            done();
          }}
        />
      </>
    ),
  },
  {
    key: 'place',
    before: ' from ',
    words: ({ pretend, found }) => {
      const { place } = pretend;
      if (place) return place.city ?? place.country;
      const town = found?.place?.city ?? found?.place?.country;
      return `where you are${town ? ` (${town})` : ''}`;
    },
    edit: ({ change, done }) => (
      <>
        <Back
          label="where you are"
          onBack={() => {
            change({ place: undefined });
            done();
          }}
        />
        <Picker
          of="towns"
          label="A town"
          onPick={({ value }) => {
            change({ place: value as NonNullable<Pretend['place']> });
            done();
          }}
        />
      </>
    ),
  },
  {
    key: 'weather',
    before: ', where ',
    words: ({ pretend, found }) => {
      const { is, celsius } = pretend.weather ?? {};
      if (!pretend.weather) return `the weather is as it is${found?.weather?.is ? ` (${found.weather.is})` : ''}`;
      return [is && WEATHER_WORDS[is], celsius !== undefined && `at ${celsius} °C`].filter(Boolean).join(' ');
    },
    edit: ({ pretend, change, done }) => (
      <>
        <Few
          list={[
            ['the weather is as it is', undefined],
            ...WEATHERS.map((is): [string, (typeof WEATHERS)[number]] => [WEATHER_WORDS[is], is]),
          ]}
          chosen={pretend.weather?.is}
          onPick={(is) => {
            change(({ weather }) => ({ weather: is && { ...weather, is } }));
            done();
          }}
        />
        <label class="row">
          at
          <input
            class="field"
            type="number"
            min="-90"
            max="70"
            aria-label="Degrees Celsius"
            value={pretend.weather?.celsius ?? ''}
            onInput={({ currentTarget: { valueAsNumber: celsius } }) =>
              celsius >= -90 && celsius <= 70 && change(({ weather }) => ({ weather: { ...weather, celsius } }))
            }
          />
          °C
        </label>
      </>
    ),
  },
  {
    key: 'device',
    before: ', on ',
    words: ({ pretend }) => (pretend.device ? `a ${pretend.device.category}` : 'this device'),
    edit: ({ pretend, change, done }) => (
      <Few<NonNullable<Pretend['device']>['category'] | undefined>
        list={[
          ['this device', undefined],
          ['a desktop', 'desktop'],
          ['a tablet', 'tablet'],
          ['a phone', 'phone'],
        ]}
        chosen={pretend.device?.category}
        onPick={(category) => {
          change({ device: category && { category } });
          done();
        }}
      />
    ),
  },
  {
    key: 'source',
    before: ', come ',
    words: ({ pretend }) => (pretend.source ? `from ${sourceWords(pretend.source)}` : 'as you came'),
    edit: ({ change, done }) => (
      <>
        <Back
          label="as you came"
          onBack={() => {
            change({ source: undefined });
            done();
          }}
        />
        <Picker
          of="sources"
          label="A source"
          typed={(text) => ({ label: `the newsletter “${text}”`, value: { channel: 'email', utm: { source: text, medium: 'email' } } })}
          onPick={({ value }) => {
            change({ source: value as NonNullable<Pretend['source']> });
            done();
          }}
        />
      </>
    ),
  },
  {
    key: 'language',
    before: ', reading ',
    isSet: ({ language }) => language !== undefined,
    words: ({ pretend }) => pretend.language ?? 'this browser’s language',
    edit: ({ change, done }) => (
      <>
        <Back
          label="this browser’s language"
          onBack={() => {
            change({ language: undefined });
            done();
          }}
        />
        <Picker
          of="languages"
          label="A language, such as de-AT"
          typed={(text) => ({ label: text, value: text })}
          onPick={({ value }) => {
            change({ language: String(value) });
            done();
          }}
        />
      </>
    ),
  },
  {
    key: 'clock',
    before: ', on ',
    words: ({ ahead }) => {
      const at = new Date(Date.now() + ahead);
      return `${weekday(at)} at ${hour(at)}`;
    },
    edit: ({ ahead, setClock, done }) => (
      <>
        <Back
          label="as it is now"
          onBack={() => {
            setClock(0);
            done();
          }}
        />
        <input
          class="field"
          type="datetime-local"
          aria-label="Day and hour"
          value={localText(new Date(Date.now() + ahead))}
          onChange={({ currentTarget: { value } }) => {
            const at = new Date(value).getTime();
            if (Number.isFinite(at)) setClock(at - Date.now());
          }}
        />
        <button type="button" class="act" onClick={done}>
          Done
        </button>
      </>
    ),
  },
  yesNo('known', ', ', ['known', 'not known', 'known as far as you say who you are']),
  {
    key: 'tags',
    before: ', with ',
    isSet: ({ tags, traits, score }) => tags !== undefined || traits !== undefined || score !== undefined,
    words: ({ pretend: { tags = [], traits = {}, score } }) =>
      [
        ...(tags.length ? [`the ${tags.length > 1 ? 'tags' : 'tag'} ${tags.join(', ')}`] : []),
        ...Object.entries(traits).map(([key, value]) => `${key} ${String(value)}`),
        ...(score === undefined ? [] : [`a score of ${score}`]),
      ].join(' and ') || 'no tags or traits but what you do',
    edit: (editing) => <Profile {...editing} />,
  },
  {
    key: 'segments',
    before: ', in ',
    isSet: ({ segments }) => segments !== undefined,
    words: ({ pretend: { segments = {} } }) => {
      const count = Object.keys(segments).length;
      return count ? `${count} ${count > 1 ? 'segments' : 'segment'} as you say` : 'no segment but by what you do';
    },
    edit: ({ change, done }) => (
      <>
        <Back
          label="no segment but by what you do"
          onBack={() => {
            change({ segments: undefined });
            done();
          }}
        />
        <Picker
          of="segments"
          label="A segment: once to be in it, twice not to be"
          onPick={({ value }) => {
            const id = String(value);
            change(({ segments }) => ({ segments: { ...segments, [id]: segments?.[id] !== true } }));
          }}
        />
      </>
    ),
  },
  {
    key: 'responses',
    before: ', who ',
    isSet: ({ responses }) => responses !== undefined,
    words: ({ pretend: { responses = [] }, nameOf }) =>
      responses.map(({ campaign, outcome, daysAgo }) => `${outcome} ${nameOf(campaign)} ${daysAgo} days ago`).join(' and ') ||
      'has answered nothing but what you do',
    edit: ({ change, done }) => (
      <>
        <Back
          label="has answered nothing but what you do"
          onBack={() => {
            change({ responses: undefined });
            done();
          }}
        />
        <Picker
          of="campaigns"
          label="A campaign and what became of it"
          onPick={({ value }) => {
            change(({ responses = [] }) => ({ responses: [...responses, value as (typeof responses)[number]] }));
            done();
          }}
        />
      </>
    ),
  },
  yesNo('staffed', ', while ', ['somebody is there to chat', 'nobody is there to chat', 'it is not said who is there to chat']),
  yesNo('team', ', ', ['one of the team', 'not of the team', 'nobody of the team']),
];

function Profile({ pretend, change, done }: Editing) {
  const [text, setText] = useState('');
  return (
    <>
      <Back
        label="no tags or traits but what you do"
        onBack={() => {
          change({ tags: undefined, traits: undefined, score: undefined });
          done();
        }}
      />
      <form
        class="row"
        onSubmit={(event) => {
          event.preventDefault();
          const [key = '', value] = text.split('=').map((part) => part.trim());
          if (key === '' || !value) return;
          const number = Number(value);
          change(({ traits }) => ({ traits: { ...traits, [key]: Number.isFinite(number) ? number : value } }));
          done();
        }}
      >
        <input
          class="field wide"
          aria-label="A trait, as name=value"
          placeholder="plan=pro"
          value={text}
          onInput={({ currentTarget }) => setText(currentTarget.value)}
        />
        <button type="submit" class="act">
          Has the trait
        </button>
      </form>
      <label class="row">
        a score of
        <input
          class="field"
          type="number"
          value={pretend.score ?? ''}
          onInput={({ currentTarget: { valueAsNumber: score } }) => change({ score: Number.isFinite(score) ? score : undefined })}
        />
      </label>
      <Picker
        of="tags"
        label="A tag"
        typed={(tag) => ({ label: `tag “${tag}”`, value: tag })}
        onPick={({ value }) => {
          change(({ tags = [] }) => ({ tags: [...new Set([...tags, String(value)])] }));
          done();
        }}
      />
    </>
  );
}

const showWhole = (element: HTMLElement | null): void => element?.scrollIntoView({ block: 'nearest' });

/** Whom the visitor is taken to be, as a sentence whose phrases are clicked and typed into. */
export function Pretending({ change, setClock, ...pretended }: Pretended & { change: Change; setClock: (ahead: number) => void }) {
  const [open, setOpen] = useState<string>();
  const [isAll, setAll] = useState(false);
  const phrase = PHRASES.find(({ key }) => key === open);
  return (
    <>
      <h2>Pretend</h2>
      <p class="pretend" data-pretend>
        {PHRASES.filter(({ isSet }) => isAll || !isSet || isSet(pretended.pretend)).map(({ key, before, words }) => (
          <span key={key}>
            {before}
            <button type="button" class="phrase" aria-expanded={open === key} onClick={() => setOpen(open === key ? undefined : key)}>
              {words(pretended)}
            </button>
          </span>
        ))}
        .{' '}
        <button type="button" class="more" aria-expanded={isAll} onClick={() => setAll(!isAll)}>
          {isAll ? 'say less' : 'say more'}
        </button>
      </p>
      {phrase && (
        <div class="editor" role="group" aria-label="Change it" key={phrase.key} ref={showWhole}>
          {phrase.edit({ ...pretended, change, setClock, done: () => setOpen(undefined) })}
        </div>
      )}
    </>
  );
}
