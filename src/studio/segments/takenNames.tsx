'use client';

import type { ReactNode } from 'react';
import { createContext, useContext } from 'react';

const Context = createContext<readonly string[]>([]);

/** Names that are taken, said once for all rows below: each with its own list, five hundred rows would bring a quarter of a million names. */
export const TakenNames = ({ names, children }: { names: readonly string[]; children: ReactNode }) => (
  <Context.Provider value={names}>{children}</Context.Provider>
);

export const useTakenNames = (): readonly string[] => useContext(Context);
