import { guard } from './guard';
import { ofDocument } from './own';
import { start } from './start';
import type * as TryOut from './tryout/main';

/** Set in a tab that tries what is not published, and in the address that it was opened with (`tryout/session.ts`). */
const TRYING = 'crindle';

guard('start', () => {
  const script = ofDocument('currentScript') as HTMLScriptElement | null;
  if (!script?.src) return;
  const usual = (): void => start(script);
  const begin = guard('start', () => {
    let isTrying;
    try {
      isTrying = location.hash.includes(TRYING) || TRYING in sessionStorage;
    } catch {
      // Reading the storage throws where cookies are blocked.
    }
    if (!isTrying) return usual();
    return (import(new URL('try.js', script.src).href) as Promise<typeof TryOut>).then((part) => part.default(script, usual), usual);
  });
  // A page that is made ready before anybody looks at it begins when somebody does, and so does a frame that is not displayed.
  if ((document as Document & { prerendering?: boolean }).prerendering === true)
    document.addEventListener('prerenderingchange', begin, { once: true });
  else if (self !== top && !innerWidth) addEventListener('resize', begin, { once: true });
  else begin();
})();
