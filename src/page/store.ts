import { toJson } from './json';
import { listen } from './sensors/sensor';

/** Small JSON values of one site in the browser. Where storage is blocked or full they live as long as the page does. */
export interface Store {
  readonly read: <T>(name: string) => T | undefined;
  readonly write: (name: string, value: unknown) => void;
  /** Erases everything of this site. */
  readonly clear: () => void;
  /** Calls back when another tab wrote. */
  readonly onOtherTab: (listener: (name: string) => void) => () => void;
}

export function openStore(siteKey: string): Store {
  const memory = new Map<string, string>();
  const prefix = `crindle:${siteKey}:`;
  const storage = usableStorage();
  return {
    read: <T>(name: string): T | undefined => {
      const text = storage?.getItem(prefix + name) ?? memory.get(name);
      if (!text) return undefined;
      try {
        return JSON.parse(text) as T;
      } catch {
        return undefined; // Somebody else wrote there; what we write next replaces it.
      }
    },
    write: (name, value) => {
      const text = toJson(value);
      memory.set(name, text);
      try {
        storage?.setItem(prefix + name, text);
      } catch {
        // Full: an older copy in the storage must not win over what the memory holds.
        storage?.removeItem(prefix + name);
      }
    },
    clear: () => {
      memory.clear();
      for (const key of Object.keys(storage ?? {})) if (key.startsWith(prefix)) storage?.removeItem(key);
    },
    onOtherTab: (listener) =>
      listen(window, ['storage'], (event) => {
        const { key } = event as StorageEvent;
        if (key?.startsWith(prefix)) listener(key.slice(prefix.length));
      }),
  };
}

/** Reading `localStorage` throws where cookies are blocked. */
function usableStorage(): Storage | undefined {
  try {
    localStorage.getItem('crindle'); // Nothing is written before there is something to keep.
    return localStorage;
  } catch {
    return undefined;
  }
}
