import type * as FastCheck from 'fast-check';
import type { z } from 'zod';
import type { View } from '../history/visitor';
import type { Expr } from '../logic/expr';
import type { Range } from '../logic/range';
import type { Truth } from '../logic/truth';
import type { ValueTest } from '../logic/valueTest';
import type { WordsFor } from '../pages/names';
import type { PagePattern } from '../pages/pattern';
import type { Said } from '../typing/said';
import type { Reading } from '../typing/spoken';
import type { Vocabulary } from '../typing/vocabulary';
import type { Editor } from '../typing/editor';
import type { PeopleCondition } from './condition';
import type { Subject, Within } from './subject';

/** Judges people inside a condition that names others (a segment). */
export type JudgePeople = (people: Expr<PeopleCondition>, subject: Subject) => Truth;

/**
 * The one part of a record that a condition looks at, besides the instant: what stands of the visitor as such, where the visit under way came
 * from, where it is, its weather, when visits began, or what came on record. Visitors who are alike in it are judged alike.
 */
export type RecordPart = 'attributes' | 'source' | 'place' | 'weather' | 'visits' | 'profile' | 'events' | 'responses';

/** Something that came on record, without its instant: a change, an event, or a response. */
export interface RecordEntry {
  readonly kind?: string;
  readonly key?: string;
  readonly name?: string;
  readonly campaign?: string;
  readonly outcome?: string;
}

/** How a condition is counted over a whole site. */
export type Counting<C> =
  /** A sum over the page views that match, in a range: from posting lists. */
  | {
      readonly by: 'views';
      readonly sum: (condition: C) => {
        readonly pages: readonly PagePattern[] | undefined;
        readonly within: Within;
        readonly range: Range;
        /** What a view counts for; undefined where each counts as 1. Engaged time is in seconds. */
        readonly weigh: ((view: Pick<View, 'engaged' | 'scroll'>) => number) | undefined;
      };
    }
  /** By what is on record of the visitor and their visits, page views left out. A property test holds each such kind to it. */
  | {
      readonly by: 'record';
      readonly of?: (condition: C) => RecordPart | undefined;
      /** Of what came on record, does it look at this? Others might as well not be there. */
      readonly looksAt?: (condition: C, entry: RecordEntry) => boolean;
    }
  /** By the whole history, page views and all. */
  | { readonly by: 'history' }
  /** As the segment that it names. */
  | { readonly by: 'segment'; readonly id: (condition: C) => string };

/** What can change a condition's answer while nobody looks; what is not said does not. */
export interface Changes<C> {
  /** How far it looks back, in days or to the visit's start: what falls out of the window changes it. */
  readonly window?: (condition: C) => Within;
  /** Page views, and how they were read. */
  readonly views?: true;
  readonly events?: true;
  /** Traits, tags, score, identity. */
  readonly profile?: true;
  readonly responses?: true;
  /** Days since the first visit at which it changes. */
  readonly ages?: (condition: C) => readonly (number | undefined)[];
  /** The next instant (UTC ms) after `now` at which a clock could change it. */
  readonly clock?: (condition: C, now: number) => number;
  /** It changes at instants that nobody can foretell. */
  readonly unforeseen?: (condition: C) => boolean;
}

type Lists = readonly (readonly [readonly string[] | undefined, readonly string[] | undefined])[];

/** What lint may conclude from a condition. All of it has to be certain. */
export interface Reasoning<C> {
  readonly quantity?: {
    readonly range: (condition: C) => Range;
    readonly isWhole: boolean;
    readonly least: number;
    /** Some visitors have no such quantity: to rule a range out is then no claim about a number. */
    readonly mayLack?: true;
    /** Is what the first counts always counted by the second too? */
    readonly isPartOf: (part: C, whole: C) => boolean;
  };
  /** Lists of what may be: two without anything in common exclude each other. */
  readonly lists?: (a: C, b: C) => Lists;
  /** Asks for yes or no. */
  readonly says?: (condition: C) => boolean;
  /** Tests one value, told by its name. */
  readonly test?: (condition: C) => { readonly of: string; readonly test: ValueTest };
  readonly contradict?: (a: C, b: C) => string | undefined;
  readonly impossible?: (condition: C, now: number) => string | undefined;
}

/** What conditions are about, in the order in which they are offered. */
export const TOPICS = {
  didHere: 'What they did here',
  are: 'Who they are',
  comeFrom: 'Where they come from',
  use: 'What they use',
  when: 'When',
} as const;
export type Topic = keyof typeof TOPICS;

/** Everything there is to know of one kind of people condition. `Where` says who judges it when it is live. */
export interface PeopleKind<C extends { readonly kind: string }, Where extends 'page' | 'server' = 'page' | 'server'> {
  readonly kind: C['kind'];
  readonly topic: Topic;
  readonly schema: () => z.ZodType<C>;
  /** Unknown (null) where its input is not there. */
  readonly holds: (condition: C, subject: Subject, judge: JudgePeople) => Truth;
  /** Reads after "people who". */
  readonly words: (condition: C, names: WordsFor) => string;
  /** What was found where it asked, in a few words. */
  readonly found: (condition: C, subject: Subject) => string;
  readonly judgedIn: Where;
  /** False where nothing supplies its input yet: it is then not offered. */
  readonly isSupplied: boolean;
  readonly counting: Counting<C>;
  readonly changes: Changes<C>;
  readonly reasoning: Reasoning<C>;
  readonly editor: Editor<C>;
  /** What it makes of what was typed, without the "not" before it. */
  readonly typed: (said: Said, vocabulary: Vocabulary) => readonly Reading<C>[];
  /** The condition denied, where that is one condition; undefined where `none` has to stand around it. */
  readonly negate?: (condition: C) => C | undefined;
  /** For property tests; small vocabularies, so that conditions meet what they ask for. */
  readonly example: (fc: typeof FastCheck.default) => FastCheck.Arbitrary<C>;
}
