import { z } from 'zod';
import type { Fact } from './fact';
import { inColumn } from './fact';

/** Whether it is a browser of the team's own, which no number counts. */
const schema = () => z.boolean();
export const teamFact: Fact<boolean, 'studio'> = {
  from: 'studio',
  schema,
  ...inColumn('team', 'boolean'),
  pretend: schema,
  example: (fc) => fc.boolean(),
};
