/** @jsxImportSource preact */
import { useEffect, useState } from 'preact/hooks';
import type { Choice, CHOICES } from '@/core/tryout/asked';
import { choices } from '../asking';

const AFTER_MS = 150;

/** A line to type in, and what the site has on record that fits; `typed` makes something of what is typed itself. */
export function Picker({
  of,
  label,
  typed,
  onPick,
}: {
  of: (typeof CHOICES)[number];
  label: string;
  typed?: (text: string) => Choice;
  onPick: (choice: Choice) => void;
}) {
  const [text, setText] = useState('');
  const [found, setFound] = useState<readonly Choice[]>([]);
  const [failure, setFailure] = useState('');
  useEffect(() => {
    let isOld = false;
    const timer = setTimeout(() => {
      choices(of, text)
        .then((list) => {
          if (isOld) return;
          setFound(list);
          setFailure('');
        })
        .catch((cause: unknown) => !isOld && setFailure(cause instanceof Error ? cause.message : String(cause)));
    }, AFTER_MS);
    return () => {
      isOld = true;
      clearTimeout(timer);
    };
  }, [of, text]);
  const own = typed && text.trim() && !found.some((one) => one.label === text.trim()) ? typed(text.trim()) : undefined;
  const all = own ? [own, ...found] : found;
  return (
    <div>
      <input
        class="field"
        style={{ width: '100%' }}
        aria-label={label}
        placeholder="type to search"
        value={text}
        onInput={({ currentTarget }) => setText(currentTarget.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && all[0]) onPick(all[0]);
        }}
      />
      {failure && (
        <p class="alert" role="alert">
          {failure}
        </p>
      )}
      <ul aria-label={`Choices: ${label}`}>
        {all.map((choice, index) => (
          <li key={index}>
            <button type="button" class="choice" onClick={() => onPick(choice)}>
              {choice.label}
              {choice.hint && <small>{choice.hint}</small>}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
