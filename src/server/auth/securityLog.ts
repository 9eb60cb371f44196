/** What happened at the door: who tried, from where, and what came of it. */
export interface Happened {
  readonly what:
    'sign-in' | 'second step' | 'sign-out' | 'password' | 'second factor' | 'reset' | 'invitation' | 'role' | 'refused' | 'erasure';
  readonly result: string;
  /** An email, or a member's number. */
  readonly who?: string | number | undefined;
  readonly address?: string | undefined;
  readonly of?: string | undefined;
}

/** One line of JSON in the studio's log. What somebody typed is cut, and control characters cannot begin a line of their own: JSON quotes them. */
export function noteSecurity({ who, of, ...rest }: Happened): void {
  const cut = (text: string): string => text.slice(0, 200);
  console.info(
    JSON.stringify({
      security: true,
      at: new Date().toISOString(),
      ...rest,
      ...(who === undefined ? {} : { who: typeof who === 'string' ? cut(who) : who }),
      ...(of === undefined ? {} : { of: cut(of) }),
    }),
  );
}
