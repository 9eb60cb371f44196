import { z } from 'zod';
import type { Fact } from './fact';
import { inColumn } from './fact';

/** Whether something in the browser hides advertisements. Looked for only where a rule asks. */
export const adBlockerFact: Fact<boolean, 'piece'> = {
  from: 'piece',
  schema: () => z.boolean(),
  ...inColumn('ad_blocker', 'boolean'),
  example: (fc) => fc.boolean(),
};
