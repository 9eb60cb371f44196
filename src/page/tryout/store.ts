import { toJson } from '../json';
import type { Store } from '../store';
import { saveSession, session } from './session';

/** In the place of `../store`: what the page script remembers stays in the try-out. What is live on the site is not touched. */
export function openStore(): Store {
  const { memory } = session();
  let release: string | undefined;
  return {
    read: <T>(name: string): T | undefined => {
      const text = name === 'release' ? release : memory[name];
      return text === undefined ? undefined : (JSON.parse(text) as T);
    },
    write: (name, value) => {
      // It may be large, and comes with the first answer of each page.
      if (name === 'release') release = toJson(value);
      else {
        memory[name] = toJson(value);
        saveSession();
      }
    },
    clear: () => undefined,
    onOtherTab: () => () => undefined,
  };
}
