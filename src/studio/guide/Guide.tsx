import Link from 'next/link';
import { X } from 'lucide-react';
import { GUIDE } from './steps';

/** One step of the guide in a line below the areas: nothing is covered by it, and it can be left at any time. */
export function Guide({
  step,
  path,
  onStep,
  onLeave,
}: {
  step: number;
  path: string;
  onStep: (step: number) => void;
  onLeave: () => void;
}) {
  const { title, text, href, words } = GUIDE[step] ?? { title: '', text: '', href: '/', words: '' };
  const isLast = step === GUIDE.length - 1;
  return (
    <section aria-label="Guide" className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-paper px-6 py-2">
      <p className="min-w-0 flex-1 basis-96">
        <span className="mr-2 text-soft">
          {step + 1} of {GUIDE.length}
        </span>
        <b>{title}.</b> <span className="text-soft">{text}</span>
      </p>
      <span className="flex items-center gap-2">
        {!path.startsWith(href) && (
          <Link className="act-quiet" href={href}>
            {words}
          </Link>
        )}
        {step > 0 && (
          <button className="act-quiet" onClick={() => onStep(step - 1)}>
            Back
          </button>
        )}
        <button className="act-quiet" onClick={() => (isLast ? onLeave() : onStep(step + 1))}>
          {isLast ? 'Done' : 'Next'}
        </button>
        <button aria-label="Leave the guide" title="Leave the guide" className="p-1.5 text-soft hover:text-ink" onClick={onLeave}>
          <X size={16} aria-hidden="true" />
        </button>
      </span>
    </section>
  );
}
