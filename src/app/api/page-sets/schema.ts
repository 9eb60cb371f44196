import { z } from 'zod';
import { plainPatternSchema } from '@/core/pages/pattern';
import { nameSchema } from '@/core/rules/schema';

export const patternsSchema = z.array(plainPatternSchema()).max(200);
export const pageSetSchema = z.strictObject({ name: nameSchema, patterns: patternsSchema });
