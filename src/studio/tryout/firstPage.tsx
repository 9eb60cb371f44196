'use client';

import type { ReactNode } from 'react';
import { createContext, useContext, useMemo } from 'react';
import { examplePage } from '@/core/pages/examplePage';
import type { Rule } from '@/core/rules/schema';
import { useRecorded } from '../rule/recorded';

const Context = createContext<string | undefined>(undefined);

/** Whatever is opened on the site from below begins where the rule could show. */
export function FirstPageProvider({ rule, children }: { rule: Rule; children: ReactNode }) {
  const { pages, sets } = useRecorded();
  const first = useMemo(
    () =>
      examplePage(
        rule.pages,
        pages.map(({ path }) => path),
        Object.fromEntries(sets.map(({ id, patterns = [] }) => [id, patterns])),
      ),
    [rule.pages, pages, sets],
  );
  return <Context.Provider value={first}>{children}</Context.Provider>;
}

/** The path to begin at on the site: of the rule around, else what is visited most. */
export function useFirstPage(): string {
  const { pages } = useRecorded();
  return useContext(Context) ?? pages[0]?.path ?? '/';
}
