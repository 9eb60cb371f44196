import { withoutEach } from '@/core/rehearsal/variants';
import type { Path } from '@/core/logic/expr';
import type { Rule } from '@/core/rules/schema';

/** The rule without the condition that a phrase of its sentence stands for; the same rule where the phrase stands for none. */
export function withoutPhrase(rule: Rule, path: Path): Rule {
  const [family, field, index] = path;
  if (family === 'pacing') {
    const { pacing: _pacing, ...rest } = rule;
    return rest;
  }
  if (family === 'pages' && (field === 'on' || field === 'except'))
    return typeof index === 'number'
      ? { ...rule, pages: { ...rule.pages, [field]: rule.pages?.[field]?.filter((_, at) => at !== index) ?? [] } }
      : rule;
  return withoutEach(rule).find((variant) => variant.path.join('.') === path.join('.'))?.rule ?? rule;
}
