import { z } from 'zod';
import type { Timeline } from '../timeline';

export const exitSchema = () => z.strictObject({ kind: z.literal('exit') });
export type Exit = z.infer<ReturnType<typeof exitSchema>>;
export const exitHolds = (_moment: Exit, line: Timeline): boolean => line.signal?.s === 'exit';
export const exitWords = (): string => 'move to leave';
