/** @jsxImportSource preact */
import { useEffect, useState } from 'preact/hooks';
import { ours } from '../asking';
import { session } from '../session';

/** As what this browser is recorded on this site outside of try-outs; undefined where it was never recorded. */
function recordedBrowser(): string | undefined {
  try {
    const state = JSON.parse(localStorage.getItem(`crindle:${session().key}:state`) ?? 'null') as { browser?: string } | null;
    return state?.browser;
  } catch {
    return undefined;
  }
}

/** Says that this very browser is one of the team's, so that what it does on the site is told apart. */
export function Ours() {
  const [browser] = useState(recordedBrowser);
  const [is, setIs] = useState<boolean>();
  const [words, setWords] = useState('');
  useEffect(() => {
    if (browser)
      ours(browser).then(
        (answer) => answer.isKnown && setIs(answer.isOurs),
        () => undefined,
      );
  }, [browser]);
  if (!browser || is === undefined)
    return (
      <p class="soft">
        This browser is not on record as a visitor of the site. Open the site once without a try-out to make it one of ours.
      </p>
    );
  return (
    <>
      <label class="row">
        <input
          type="checkbox"
          checked={is}
          onChange={({ currentTarget: { checked } }) => {
            ours(browser, checked)
              .then(({ isOurs }) => {
                setIs(isOurs);
                setWords(isOurs ? 'From now on it counts as the team’s.' : 'It is a visitor like any other again.');
              })
              .catch((cause: unknown) => setWords(`Not changed: ${cause instanceof Error ? cause.message : String(cause)}`));
          }}
        />
        This browser is one of ours
      </label>
      <p role="status" class="soft">
        {words}
      </p>
    </>
  );
}
