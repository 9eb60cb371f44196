import type { Parsed } from '../parsing/parse';
import { parseWith } from '../parsing/parse';
import type { Rule, SegmentDocument } from './schema';
import { ruleSchema, segmentSchema } from './schema';

export const parseRule = (input: unknown): Parsed<Rule> => parseWith(ruleSchema, input);
export const parseSegment = (input: unknown): Parsed<SegmentDocument> => parseWith(segmentSchema, input);
