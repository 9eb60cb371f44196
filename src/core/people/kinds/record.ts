// What is on record about a person: identity, traits, tags, score, and whether the browser is one of the team's own.
import { z } from 'zod';
import { inRange, rangeSchema, rangeWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import { quoted, testWords, valueHolds, valueTestSchema } from '../../rules/valueTest';
import type { Subject } from '../subject';
import { ownValue } from './did';

export const knownSchema = () => z.strictObject({ kind: z.literal('known'), is: z.boolean() });
export type Known = z.infer<ReturnType<typeof knownSchema>>;
export const knownHolds = ({ is }: Known, { visitor }: Subject): Truth => visitor.known === is;
export const knownWords = ({ is }: Known): string => (is ? 'are known' : 'are not known yet');

export const traitSchema = () => z.strictObject({ kind: z.literal('trait'), key: z.string().min(1).max(200), test: valueTestSchema() });
export type Trait = z.infer<ReturnType<typeof traitSchema>>;
export const traitHolds = ({ key, test }: Trait, { visitor, now }: Subject): Truth => valueHolds(ownValue(visitor.traits, key), test, now);
export const traitWords = ({ key, test }: Trait): string => `have a trait ${quoted(key)} that ${testWords(test)}`;

export const taggedSchema = () => z.strictObject({ kind: z.literal('tagged'), tag: z.string().min(1).max(200) });
export type Tagged = z.infer<ReturnType<typeof taggedSchema>>;
export const taggedHolds = ({ tag }: Tagged, { visitor }: Subject): Truth => visitor.tags.includes(tag);
export const taggedWords = ({ tag }: Tagged): string => `carry the tag ${quoted(tag)}`;

export const scoreSchema = () => z.strictObject({ kind: z.literal('score'), points: rangeSchema() });
export type Score = z.infer<ReturnType<typeof scoreSchema>>;
export const scoreHolds = ({ points }: Score, { visitor }: Subject): Truth => inRange(visitor.score ?? 0, points);
export const scoreWords = ({ points }: Score): string => `have a score of ${rangeWords(points)}`;

export const teamSchema = () => z.strictObject({ kind: z.literal('team'), is: z.boolean() });
export type Team = z.infer<ReturnType<typeof teamSchema>>;
export const teamHolds = ({ is }: Team, { visitor }: Subject): Truth => (visitor.team ?? false) === is;
export const teamWords = ({ is }: Team): string => (is ? 'are one of the team' : 'are not of the team');
