import { z } from 'zod';
import type { Fact } from './fact';
import { inColumn } from './fact';

/** The language that the browser asks for first, as a tag (BCP 47). */
const schema = () => z.string().max(35);
export const languageFact: Fact<string, 'open'> = {
  from: 'open',
  schema,
  ...inColumn('language', 'text'),
  pretend: () => schema().min(1),
  example: (fc) => fc.constantFrom('de-AT', 'it'),
};
