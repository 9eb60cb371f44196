import { z } from 'zod';
import type { WordsFor } from '../../rules/words';

export const segmentSchema = () => z.strictObject({ kind: z.literal('segment'), id: z.string().min(1).max(100) });
export type SegmentCondition = z.infer<ReturnType<typeof segmentSchema>>;

export const segmentWords = ({ id }: SegmentCondition, names: WordsFor): string => `are in “${names.segment(id)}”`;
