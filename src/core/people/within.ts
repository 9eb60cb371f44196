import { z } from 'zod';
import { LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import type { Within } from './subject';

export const lookbackSchema = () => z.int().min(1).max(LONGEST_LOOKBACK_DAYS);
export const withinSchema = () => z.union([z.number().gt(0).max(LONGEST_LOOKBACK_DAYS), z.literal('visit')]).optional();

export function withinWords(within: Within): string {
  if (within === undefined) return '';
  if (within === 'visit') return ' in this visit';
  return within === 1 ? ' in the last day' : ` in the last ${within} days`;
}
