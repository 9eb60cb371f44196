import { upgradeCampaign } from '@/core/flows/upgrade';
import { campaignSchema } from '@/core/campaigns/campaign';
import { describeRule, describeSegment, proposedName, sentenceOf } from '@/core/rules/describe';
import { lintRule, lintSegment } from '@/core/rules/lint';
import type { Parsed } from '@/core/parsing/parse';
import { issueWords, parseWith } from '@/core/parsing/parse';
import { jsonOf } from './files';
import type { Rule, SegmentDocument } from '@/core/rules/schema';
import { ruleSchema, segmentSchema } from '@/core/rules/schema';

type Document = { kind: 'rule'; rule: Rule } | { kind: 'segment'; segment: SegmentDocument };

/** Reads a file that holds a rule, a segment (it has a lookback) or a campaign (it has a rule). Throws with every mistake. */
export function readDocument(file: string): Document {
  const input = jsonOf('the file', file);
  const has = (key: string): boolean => typeof input === 'object' && input !== null && key in input;
  if (has('lookback')) return { kind: 'segment', segment: valueOf(parseWith(segmentSchema, input), file) };
  if (has('rule')) return { kind: 'rule', rule: valueOf(parseWith(campaignSchema, upgradeCampaign(input)), file).rule };
  return { kind: 'rule', rule: valueOf(parseWith(ruleSchema, input), file) };
}

export function valueOf<T>(parsed: Parsed<T>, file: string): T {
  if (!parsed.ok) throw new Error(`${file}: ${parsed.issues.map(issueWords).join('; ')}`);
  return parsed.value;
}

export function describeFile(file: string): object {
  const document = readDocument(file);
  if (document.kind === 'rule') return { sentence: sentenceOf(describeRule(document.rule)) };
  return { sentence: sentenceOf(describeSegment(document.segment)), name: proposedName(document.segment) };
}

export function lintFile(file: string, now: number): object {
  const document = readDocument(file);
  return document.kind === 'rule' ? lintRule(document.rule, { now }) : lintSegment(document.segment, { now });
}
