'use client';

import type { ReactNode } from 'react';
import { createContext, useContext } from 'react';
import type { Right } from '@/server/auth/rights';

const Rights = createContext<readonly Right[] | undefined>(undefined);

/** What whoever is signed in may do here, for everything below. */
export function RightsProvider({ rights, children }: { rights: readonly Right[]; children: ReactNode }) {
  return <Rights.Provider value={rights}>{children}</Rights.Provider>;
}

/** Whether they may; where nobody says who it is the server alone decides. */
export function useMay(right: Right): boolean {
  return useContext(Rights)?.includes(right) ?? true;
}

/** Controls that change something: for whoever may not, they can be seen and not used. */
export function Editing({ right = 'edit', children }: { right?: Right; children: ReactNode }) {
  return (
    <fieldset className="contents" disabled={!useMay(right)}>
      {children}
    </fieldset>
  );
}
