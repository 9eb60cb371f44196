import type { Path } from '@/core/logic/expr';
import type { Phrase } from '@/core/rules/describe';
import type { Finding, Fix } from '@/core/rules/lint';

const SAID = { never: 'It can never show. ', hardly: 'It can hardly show. ', note: '' } as const;
const EDGE = { never: 'border-danger text-danger', hardly: 'border-moment', note: 'border-line' } as const;

/** What lint found, the worst first, each with the phrases it is about and its fix as one click. A segment holds nobody where a rule never shows. */
export function Findings({
  findings,
  phrases,
  onFix,
  isSegment = false,
}: {
  findings: readonly Finding[];
  phrases: readonly Phrase[];
  onFix: (fix: Fix) => void;
  isSegment?: boolean;
}) {
  if (findings.length === 0) return null;
  const order: readonly Finding['severity'][] = ['never', 'hardly', 'note'];
  return (
    <ul className="grid gap-2" aria-label="What stands out">
      {[...findings]
        .sort((a, b) => order.indexOf(a.severity) - order.indexOf(b.severity))
        .map(({ code, severity, message, fix, path, other }) => (
          <li key={code + path.join('.')} className={`border-l-2 pl-3 ${EDGE[severity]}`}>
            <About texts={[other, path].flatMap((at) => textAt(phrases, at))} />
            {isSegment ? (severity === 'never' ? 'It can never hold anybody. ' : '') : SAID[severity]}
            {message}{' '}
            {fix && (
              <button className="font-semibold underline" onClick={() => onFix(fix)}>
                {fix.words}
              </button>
            )}
          </li>
        ))}
    </ul>
  );
}

/** The words of the phrase at a path of the rule; none where the path is that of several, or of none. */
function textAt(phrases: readonly Phrase[], path: Path | undefined): string[] {
  const at = path?.join('.');
  const found = phrases.filter((phrase) => phrase.path?.join('.') === at && at !== undefined);
  return found.length === 1 ? found.map(({ text }) => text) : [];
}

function About({ texts }: { texts: readonly string[] }) {
  return texts.length > 0 && <span className="font-semibold">{texts.join(' / ')}: </span>;
}
