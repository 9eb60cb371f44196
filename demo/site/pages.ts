import { HUTS } from './content/huts';
import { ARTICLES } from './content/journal';
import { OTHERS } from './content/others';
import { ROUTES } from './content/routes';
import type { DemoPage } from './page';

export type { DemoPage } from './page';

/** The pages of the demo site. `height` is how many screens long a page reads; the simulator uses it too. */
export const PAGES: readonly DemoPage[] = [...OTHERS, ...HUTS, ...ROUTES, ...ARTICLES];

export const findPage = (path: string): DemoPage | undefined => PAGES.find((page) => page.path === (path.replace(/\/+$/, '') || '/'));
