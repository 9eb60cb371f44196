import type { Phrase } from '@/core/rules/describe';

/** A rule or segment as its sentence; each family's phrases carry its colour and underline. */
export function Sentence({ phrases, size = 'large' }: { phrases: readonly Phrase[]; size?: 'large' | 'small' }) {
  return (
    <p
      className={
        size === 'large'
          ? 'font-display text-xl leading-[1.75] [overflow-wrap:anywhere]'
          : 'leading-relaxed text-soft [overflow-wrap:anywhere]'
      }
    >
      {phrases.map((phrase, index) =>
        phrase.family && size === 'large' ? (
          <span key={index} className={`phrase phrase-${phrase.family}`}>
            {phrase.text}
          </span>
        ) : (
          <span key={index}>{phrase.text}</span>
        ),
      )}
    </p>
  );
}
