// How a condition is edited, said as data: a row of words and fields, in their order. The studio draws it.
import type { Vocabulary } from './vocabulary';
import type { RecordedList } from './recordedList';

type KeysOf<C> = Extract<keyof C, string>;

export type Field<C> =
  | { readonly field: 'words'; readonly text: string }
  | { readonly field: 'note'; readonly text: string }
  /** A number of times or a quantity, with at least, at most, exactly, between. */
  | {
      readonly field: 'range';
      readonly key: KeysOf<C>;
      readonly label: string;
      readonly least: number;
      readonly most: number;
      readonly unit?: string;
      readonly allowNever?: true;
      /** What a missing range means. */
      readonly otherwise?: { readonly min: number; readonly max?: number };
      /** It may be left out: the button that puts it in says this. */
      readonly optional?: { readonly words: string; readonly start: { readonly min?: number; readonly max?: number } };
    }
  | {
      readonly field: 'number';
      readonly key: KeysOf<C>;
      readonly label: string;
      readonly least: number;
      readonly most: number;
      readonly unit?: string;
      readonly otherwise?: number;
      readonly isWhole?: true;
    }
  | { readonly field: 'within' }
  | { readonly field: 'pages' }
  | { readonly field: 'where' }
  | {
      readonly field: 'text';
      readonly key: KeysOf<C>;
      readonly label: string;
      readonly list?: RecordedList;
      readonly width?: string;
      /** A selector: it can be pointed at on the site. */
      readonly isElement?: true;
    }
  | { readonly field: 'list'; readonly key: KeysOf<C>; readonly label: string; readonly list?: RecordedList; readonly width?: string }
  | { readonly field: 'test'; readonly label: string; readonly numbers?: true }
  | {
      readonly field: 'choice';
      readonly key: KeysOf<C>;
      readonly label: string;
      readonly options: readonly (readonly [value: string, words: string])[];
      readonly otherwise?: string;
    }
  | {
      readonly field: 'named';
      readonly key: KeysOf<C>;
      readonly label: string;
      readonly from: 'segments' | 'campaigns';
      readonly none: string;
    }
  | { readonly field: 'ticks'; readonly key: KeysOf<C>; readonly label: string; readonly options: readonly string[] }
  | { readonly field: 'yesNo'; readonly label: string; readonly yes: string; readonly no: string }
  /** What no description can say: drawn by the studio's own part of that name. */
  | { readonly field: 'own'; readonly part: 'location' | 'calendar' | 'utm' };

export interface Editor<C> {
  /** What it is called where a condition is added. */
  readonly label: string;
  /** What it begins as: with what the site has recorded most, where that is known. */
  readonly make: (recorded?: Vocabulary) => C;
  readonly rows: readonly (readonly Field<C>[])[];
}
