// What a member prefers in this browser: cookies, so that the first picture is right already.
export const THEMES = ['system', 'light', 'dark'] as const;
export type Theme = (typeof THEMES)[number];
export const THEME_COOKIE = 'crindle_theme';
export const GUIDE_COOKIE = 'crindle_guide';

const YEAR_S = 31_536_000;

export const isTheme = (value: string | undefined): value is Theme => (THEMES as readonly string[]).includes(value ?? '');

export function keepPreference(cookie: string, value: string): void {
  document.cookie = `${cookie}=${encodeURIComponent(value)}; path=/; max-age=${YEAR_S}; samesite=lax`;
}

/** Takes effect at once and with every later page. */
export function setTheme(theme: Theme): void {
  keepPreference(THEME_COOKIE, theme);
  document.documentElement.dataset['theme'] = theme;
}
