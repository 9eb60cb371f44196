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

const turned = (value: Truth, isDenied: boolean): Truth => (isDenied && value !== null ? !value : value);

/** Of each phrase whether it does its part; what is denied does so where it does not hold. The first that asks something of a path speaks for it. */
function collect(node: ReasonNode, values: Map<string, Truth>, isDenied = false): void {
  const key = node.path.join('.');
  if (node.asked !== undefined && !values.has(key)) values.set(key, turned(node.value, isDenied));
  for (const part of node.parts ?? []) collect(part, values, node.join === 'none' ? !isDenied : isDenied);
}

const isTold = ({ value, asked, path }: ReasonNode): boolean =>
  value !== true || !(SELF_EVIDENT.includes(String(path[0])) || asked === 'a tab that is visible');

function rows(node: ReasonNode, depth: number, isDenied = false): preact.JSX.Element[] {
  const { path, parts = [], join, asked, found } = node;
  const isGroup =
    asked === undefined && join !== undefined && join !== 'all' && (parts.length > 1 || (join === 'none' && parts.length > 0));
  const inner = parts.flatMap((part) =>
    rows(part, isGroup || asked !== undefined ? depth + 1 : depth, join === 'none' ? !isDenied : isDenied),
  );
  const key = `${path.join('.')} ${depth}`;
  if (asked === undefined) {
    if (!isGroup) return inner;
    return [
      <span key={`${key} group`} class="group" style={{ paddingInlineStart: `${depth * 14}px` }}>
        {GROUP[join]}
      </span>,
      ...inner,
    ];
  }
  const value = turned(node.value, isDenied);
  if (!isTold(node)) return [];
  const [sign, name] = MARK.get(value) ?? ['?', 'unknown'];
  return [
    <span key={key} role="listitem" style={{ display: 'contents' }} data-value={name}>
      <span class={name}>
        <span aria-hidden="true">{sign}</span>
        <span class="sr">{name === 'true' ? 'holds' : name === 'false' ? 'does not hold' : 'not known'}</span>
      </span>
      <b style={{ paddingInlineStart: `${depth * 14}px` }}>{asked}</b>
      <span class="soft">{found?.replace(location.origin, '')}</span>
    </span>,
    ...inner,
  ];
}
