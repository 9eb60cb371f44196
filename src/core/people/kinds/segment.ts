import { z } from 'zod';
import type { WordsFor } from '../../pages/names';
import type { PeopleKind } from '../kind';
import { called } from '../../typing/spoken';
import type { Truth } from '../../logic/truth';
import type { JudgePeople } from '../kind';
import type { Subject } from '../subject';

export const segmentSchema = () => z.strictObject({ kind: z.literal('segment'), id: z.string().min(1).max(100) });
export type SegmentCondition = z.infer<ReturnType<typeof segmentSchema>>;

export const segmentWords = ({ id }: SegmentCondition, names: WordsFor): string => `are in “${names.segment(id)}”`;

/** Unknown where the segment no longer exists or refers to itself. */
export function inSegment(id: string, subject: Subject, judge: JudgePeople): Truth {
  const segment = Object.hasOwn(subject.segments, id) ? subject.segments[id] : undefined;
  const within = subject.within ?? [];
  if (!segment || within.includes(id)) return null;
  return judge(segment.people, { ...subject, lookback: segment.lookback, within: [...within, id] });
}

export const segmentKind: PeopleKind<SegmentCondition, 'server'> = {
  kind: 'segment',
  topic: 'are',
  schema: segmentSchema,
  holds: ({ id }, subject, judge) => inSegment(id, subject, judge),
  words: segmentWords,
  found: ({ id }, { segments }) => (segments[id] ? '' : 'the segment no longer exists'),
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'segment', id: ({ id }) => id },
  // A segment may ask for anything; where it is written out, its own conditions say so themselves.
  changes: { views: true, events: true, profile: true, responses: true },
  reasoning: {},
  editor: {
    label: 'Is in a segment',
    make: () => ({ kind: 'segment', id: '' }),
    rows: [
      [
        { field: 'words', text: 'are in' },
        { field: 'named', key: 'id', label: 'Segment', from: 'segments', none: 'choose a segment' },
      ],
    ],
  },
  typed: ({ raw, text, quoted }, { segments }) => {
    // A name typed whole means that segment, though it says "not" itself.
    const named = segments.find(({ name }) => name.toLowerCase() === raw.toLowerCase());
    if (named) return [{ leaf: { kind: 'segment', id: named.id }, sureness: 3, includesNot: true }];
    const explicit =
      /^(?:are |is )?(?:in |part of |members? of )?(?:the )?(?:segment|audience) ?:? ?(.+)$/.exec(text)?.[1] ??
      /^(?:are |is )in (.+)$/.exec(text)?.[1];
    const asked = (quoted[0] ?? explicit ?? text.replace(/^in (?:the )?/, '')).replace(/[“”"]/g, '');
    return called(asked, segments, ({ name }) => name).map(({ one, sureness }) => ({
      leaf: { kind: 'segment', id: one.id },
      sureness: (explicit === undefined ? 0.1 : 2) + sureness,
    }));
  },
  example: (fc) => fc.record({ kind: fc.constant('segment' as const), id: fc.constantFrom('s1', 'gone') }),
};
