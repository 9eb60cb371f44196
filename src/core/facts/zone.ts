import { z } from 'zod';
import type { Fact } from './fact';
import { inColumn } from './fact';

/** The time zone that the browser is set to, by its IANA name; UTC where it is missing. */
const schema = () => z.string().max(60);
export const zoneFact: Fact<string, 'open'> = {
  from: 'open',
  schema,
  ...inColumn('zone', 'text'),
  pretend: () => schema().min(1),
  example: (fc) => fc.constantFrom('Europe/Vienna', 'Asia/Tokyo'),
};
