'use client';

import type { ReactNode } from 'react';
import { createContext, useContext, useMemo, useState } from 'react';
import type { SiteGoal } from '@/core/campaigns/campaign';
import type { PlainPattern } from '@/core/pages/pattern';
import type { RecordedList } from '@/core/typing/recordedList';
import { RECORDED_LISTS } from '@/core/typing/recordedList';
import type { Vocabulary } from '@/core/typing/vocabulary';
import { NO_VOCABULARY } from '@/core/typing/vocabulary';
import { sectionsOf } from '../ribbon/layout';
import { patternHolds } from '@/core/pages/pattern';

/** `goals`: what the site names as success. */
export type Recorded = Vocabulary & { readonly goals?: readonly (Named & { readonly goal: SiteGoal })[] };
export type { RecordedList };
export const listId = (list: RecordedList | 'pages'): string => `recorded-${list}`;

const Context = createContext<{ recorded: Recorded; addSegment: (segment: Named) => void }>({
  recorded: NO_VOCABULARY,
  addSegment: () => undefined,
});

interface Named {
  readonly id: string;
  readonly name: string;
}

/** What the site has recorded, for everything below to pick from. */
export function RecordedProvider({ value, children }: { value: Recorded; children: ReactNode }) {
  // Made in an editor since the screen was loaded.
  const [made, setMade] = useState<readonly Named[]>([]);
  const known = useMemo(() => {
    const fresh = made.filter(({ id }) => !value.segments.some((one) => one.id === id));
    return {
      recorded: { ...value, segments: [...value.segments, ...fresh] },
      addSegment: (segment: Named) => setMade((others) => [...others, segment]),
    };
  }, [value, made]);
  return (
    <Context.Provider value={known}>
      <datalist id={listId('pages')}>
        {value.pages.map(({ path, views }) => (
          <option key={path} value={path}>
            {`${views} views`}
          </option>
        ))}
      </datalist>
      {RECORDED_LISTS.map((list) => (
        <datalist key={list} id={listId(list)}>
          {value[list].map(({ value: one, times }) => (
            <option key={one} value={one}>{`${times.toLocaleString('en-GB')} times`}</option>
          ))}
        </datalist>
      ))}
      {children}
    </Context.Provider>
  );
}

export function useRecorded(): Recorded & {
  sections: string[];
  addSegment: (segment: Named) => void;
  countMatching: (pattern: PlainPattern) => { pages: number; views: number };
} {
  const { recorded, addSegment } = useContext(Context);
  return useMemo(
    () => ({
      ...recorded,
      addSegment,
      sections: sectionsOf(recorded.pages),
      countMatching: (pattern) => {
        const matching = recorded.pages.filter(({ path }) => patternHolds(pattern, { url: `https://site.example${path}` }, {}) === true);
        return { pages: matching.length, views: matching.reduce((sum, { views }) => sum + views, 0) };
      },
    }),
    [recorded, addSegment],
  );
}
