// The studio's keys: what each does, for the screens and for the sheet that lists them.
export const AREA_KEYS = [
  { key: 't', href: '/today', label: 'Today' },
  { key: 'v', href: '/visits', label: 'Visits' },
  { key: 's', href: '/segments', label: 'Segments' },
  { key: 'c', href: '/campaigns', label: 'Campaigns' },
  { key: 'r', href: '/results', label: 'Results' },
  { key: 'a', href: '/conversations', label: 'Conversations' },
  { key: 'l', href: '/leads', label: 'Leads' },
  { key: 'u', href: '/setup', label: 'Setup' },
] as const;

export type KeyAction =
  | { readonly kind: 'search' | 'help' | 'new' | 'filter' | 'open' | 'actions' }
  | { readonly kind: 'go'; readonly href: string }
  | { readonly kind: 'move'; readonly by: 1 | -1 }
  /** The first of two keys. */
  | { readonly kind: 'began' };

export interface Pressed {
  readonly key: string;
  /** Ctrl, or ⌘. */
  readonly command: boolean;
  readonly alt: boolean;
  /** Whether the focus is where text is typed. */
  readonly isTyping: boolean;
  /** The focus is on a row of a list. */
  readonly isOnRow: boolean;
  /** `g` was pressed just before. */
  readonly afterG: boolean;
}

/** What a key means where the focus is; undefined where it is none of ours. */
export function meaningOf({ key, command, alt, isTyping, isOnRow, afterG }: Pressed): KeyAction | undefined {
  if (command && key.toLowerCase() === 'k') return { kind: 'search' };
  if (command || alt || isTyping) return undefined;
  if (afterG) {
    const area = AREA_KEYS.find((one) => one.key === key);
    if (area) return { kind: 'go', href: area.href };
  }
  switch (key) {
    case 'g':
      return { kind: 'began' };
    case '?':
      return { kind: 'help' };
    case 'n':
      return { kind: 'new' };
    case '/':
      return { kind: 'filter' };
    case 'j':
      return { kind: 'move', by: 1 };
    case 'k':
      return { kind: 'move', by: -1 };
    case 'ArrowDown':
      return isOnRow ? { kind: 'move', by: 1 } : undefined;
    case 'ArrowUp':
      return isOnRow ? { kind: 'move', by: -1 } : undefined;
    case 'e':
      return isOnRow ? { kind: 'open' } : undefined;
    case '.':
      return isOnRow ? { kind: 'actions' } : undefined;
    default:
      return undefined;
  }
}

export const KEY_HELP: readonly { readonly title: string; readonly keys: readonly (readonly [string, string])[] }[] = [
  {
    title: 'Everywhere',
    keys: [
      ['Ctrl K', 'search everything and every action'],
      ...AREA_KEYS.map(({ key, label }): [string, string] => [`g ${key}`, label]),
      ['?', 'this list'],
      ['Escape', 'close what floats'],
    ],
  },
  {
    title: 'In lists',
    keys: [
      ['j  k', 'next and previous row; so do the arrows once a row has the focus'],
      ['Enter  e', 'open the row'],
      ['.', 'what can be done with the row'],
      ['n', 'a new one of what the list holds'],
      ['/', 'filter the list'],
    ],
  },
  {
    title: 'While editing',
    keys: [
      ['Ctrl Z', 'undo, across the whole draft'],
      ['Ctrl Shift Z', 'redo'],
      ['Tab', 'the next phrase, field or button'],
    ],
  },
  { title: 'Along a visit', keys: [['←  →', 'the instant before and after']] },
];
