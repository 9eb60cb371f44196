import { z } from 'zod';
import type { Timeline } from '../timeline';

export const scrollSchema = () => z.strictObject({ kind: z.literal('scroll'), atLeast: z.number().min(1).max(100) });
export type Scroll = z.infer<ReturnType<typeof scrollSchema>>;
export const scrollHolds = ({ atLeast }: Scroll, line: Timeline): boolean => line.depth >= atLeast;
export const scrollWords = ({ atLeast }: Scroll): string => `scroll to ${atLeast} %`;

export const scrollStartSchema = () => z.strictObject({ kind: z.literal('scrollStart') });
export type ScrollStart = z.infer<ReturnType<typeof scrollStartSchema>>;
export const scrollStartHolds = (_moment: ScrollStart, line: Timeline): boolean => line.scrolled;
export const scrollStartWords = (): string => 'start to scroll';
