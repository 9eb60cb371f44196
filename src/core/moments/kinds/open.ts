import { z } from 'zod';

export const openSchema = () => z.strictObject({ kind: z.literal('open') });
export type Open = z.infer<ReturnType<typeof openSchema>>;

export const openWords = (): string => 'open the page';
