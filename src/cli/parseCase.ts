import { z } from 'zod';
import { pagesSchema } from '@/core/pages/pages';
import type { Issue } from '@/core/parsing/parse';
import { issueWords, parseWith } from '@/core/parsing/parse';
import { momentExprSchema, peopleSchema, ruleSchema } from '@/core/rules/schema';

const schemas = { people: peopleSchema(), moment: momentExprSchema(), pages: pagesSchema() };

/** Mistakes in the rule parts of a case; the recorded parts are taken as they are. */
export function parseCase(input: object): string[] {
  const found = Object.entries(schemas).flatMap(([key, schema]): readonly Issue[] => {
    if (!(key in input)) return [];
    const parsed = parseWith(z.object({ [key]: schema as z.ZodType }), input);
    return parsed.ok ? [] : parsed.issues;
  });
  return found.map(issueWords);
}

export function parsePacingCase(input: object): string[] {
  const parsed = parseWith(z.object({ campaigns: z.array(z.object({ rule: ruleSchema })) }), input);
  return parsed.ok ? [] : parsed.issues.map(issueWords);
}
