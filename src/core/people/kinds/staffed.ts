import { z } from 'zod';
import type { Truth } from '../../rules/truth';
import type { Subject } from '../subject';

export const staffedSchema = () => z.strictObject({ kind: z.literal('staffed'), is: z.boolean() });
export type Staffed = z.infer<ReturnType<typeof staffedSchema>>;
export const staffedHolds = ({ is }: Staffed, { staffed }: Subject): Truth => (staffed === undefined ? null : staffed === is);
export const staffedWords = ({ is }: Staffed): string => (is ? 'can reach someone by chat now' : 'can reach nobody by chat now');
