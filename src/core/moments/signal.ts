/** What a page view reports, in order. `t` is ms since the page opened. */
export type Signal = { readonly t: number } & SignalBody;
export type SignalBody =
  | { readonly s: 'scroll'; readonly depth: number }
  | { readonly s: 'click'; readonly on: readonly string[] }
  | { readonly s: 'input' }
  | { readonly s: 'exit' }
  | { readonly s: 'seen'; readonly selector: string; readonly share: number; readonly top?: boolean | undefined }
  | { readonly s: 'event'; readonly name: string; readonly props?: Readonly<Record<string, unknown>> | undefined }
  | { readonly s: 'hide' }
  | { readonly s: 'show' }
  /** The page has been loaded for a while and cannot be scrolled: all of it counts as read from here on. */
  | { readonly s: 'whole' };

/** What a page view starts with. Times in ms. */
export interface Before {
  /** Of imported visits; a page of ours says so by its signal `whole`, at the instant at which it counts. */
  readonly cannotScroll?: boolean | undefined;
  readonly hidden?: boolean | undefined;
  readonly visitElapsed?: number | undefined;
  readonly visitEngaged?: number | undefined;
  readonly visitClicks?: number | undefined;
  /** Selectors that were watched; where given, `seen` and `click` answers about any other are unknown. */
  readonly watched?: readonly string[] | undefined;
}
