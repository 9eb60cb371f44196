/** @jsxImportSource preact */
import type { Truth } from '@/core/logic/truth';
import type { Chosen } from '@/core/tryout/asked';
import type { ReasonNode } from '@/core/rules/explain';

const MARK = new Map<Truth, readonly [sign: string, name: string]>([
  [true, ['✓', 'true']],
  [false, ['✕', 'false']],
  [null, ['?', 'unknown']],
]);
const GROUP = { all: 'all of', any: 'one of', none: 'none of' } as const;
/** Said only where they stand in the way. */
const SELF_EVIDENT = ['place', 'budget'];

/** The chosen rule as a sentence, what does not hold marked, and below it what was asked and what was found. */
export function Reasons({ chosen: { phrases, explanation } }: { chosen: Chosen }) {
  const { people, pages, moment, pacing } = explanation;
  const values = new Map<string, Truth>();
  for (const family of [people, pages, moment, pacing]) collect(family, values);
  return (
    <>
      <p class="say" data-sentence>
        {phrases.map(({ text, family, path }, index) => {
          if (!family) return text;
          const value = values.get((path ?? []).join('.'));
          return (
            <span key={index} class={`${family} ${value === false ? 'no' : value === null ? 'maybe' : ''}`}>
              {text}
            </span>
          );
        })}
      </p>
      <div class="reasons" role="list" aria-label="What was asked, and what was found">
        {[people, pages, moment, pacing].flatMap((node) => rows(node, 0))}
      </div>
    </>
  );
}

function collect(node: ReasonNode, values: Map<string, Truth>): void {
  const key = node.path.join('.');
  if (!values.has(key) || node.asked !== undefined) values.set(key, node.value);
  for (const part of node.parts ?? []) collect(part, values);
}

function rows(node: ReasonNode, depth: number): preact.JSX.Element[] {
  const inner = (node.parts ?? []).flatMap((part) => rows(part, node.join && node.join !== 'all' ? depth + 1 : depth));
  const key = `${node.path.join('.')} ${depth}`;
  if (node.asked === undefined) {
    // What stands in a group of which not all has to hold is said to do so.
    if (!node.join || node.join === 'all' || inner.length < 1) return inner;
    return [
      <span key={`${key} group`} class="group" style={{ paddingInlineStart: `${depth * 14}px` }}>
        {GROUP[node.join]}
      </span>,
      ...inner,
    ];
  }
  if (node.value === true && (SELF_EVIDENT.includes(String(node.path[0])) || node.asked === 'a tab that is visible')) return [];
  const [sign, name] = MARK.get(node.value) ?? ['?', 'unknown'];
  return [
    <span key={key} role="listitem" style={{ display: 'contents' }} data-value={name}>
      <span class={name}>
        <span aria-hidden="true">{sign}</span>
        <span class="sr">{name === 'true' ? 'holds' : name === 'false' ? 'does not hold' : 'not known'}</span>
      </span>
      <b style={{ paddingInlineStart: `${depth * 14}px` }}>{node.asked}</b>
      <span class="soft">{node.found}</span>
    </span>,
    ...inner,
  ];
}
