/** @jsxImportSource preact */
import { WEATHERS } from '@/core/history/visitor';
import type { Pretend } from '@/core/tryout/asked';
import { Back, Few } from './Choices';
import { Picker } from './Picker';
import type { Phrase } from './pretended';
import { Profile } from './Profile';

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

const sourceWords = ({ channel, utm, referrer }: NonNullable<Pretend['source']>): string =>
  [utm.source ?? referrer ?? channel, utm.campaign && `(${utm.campaign})`].filter(Boolean).join(' ');

/** Whom the visitor is taken to be, phrase by phrase. */
export const PHRASES: readonly Phrase[] = [
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
