import type { RefObject } from 'react';
import type { Path } from '@/core/flows/edit';
import type { Message } from '@/core/messages/message';
import type { Format } from '@/core/messages/richText';

/** Where somebody last wrote. */
export interface Caret {
  readonly path: Path;
  readonly from: number;
  readonly to: number;
}
/** Of one message's texts. */
export interface Writing {
  last: Caret | undefined;
  /** The editors of texts with formatting, by the keys of their blocks. */
  readonly rich: Map<string, RichHandle>;
}
export type CaretRef = RefObject<Writing>;

/** What the tools over a text with formatting do with it. */
export interface RichHandle {
  readonly format: (format: Format | { readonly link: undefined }) => void;
  readonly insert: (text: string) => void;
  /** Where what is marked leads to, if anywhere. */
  readonly link: () => string | undefined;
}

/** Changes the message as it is by then; the same function for as long as the frame is there. */
export type Edit = (change: (message: Message) => Message) => void;
