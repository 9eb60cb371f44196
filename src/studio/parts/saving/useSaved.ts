import { useCallback, useMemo, useRef, useState, useTransition } from 'react';
import type { z } from 'zod';
import { toast } from 'sonner';
import { goodPart } from '@/core/merging/goodPart';
import { mergeChanges } from '@/core/merging/threeWay';
import type { Path } from '@/core/logic/expr';
import { parseWith } from '@/core/parsing/parse';
import type { EditedKind } from '@/server/db/trash';
import { call } from '../net/call';
import type { Answered } from '../net/send';
import { EDITED } from './edited';
import { useAutosave } from './useAutosave';
import { useBeside } from './useBeside';
import type { Change } from './useDraft';
import { useDraft } from './useDraft';

/** Whatever is edited is saved alike: the whole of it, with the revision that it was read with, for the next one. */
const save = (kind: EditedKind, id: string, body: object): Promise<Answered<{ readonly revision: number }>> =>
  call(`PUT ${EDITED[kind].api}/{id}`, { params: { id }, body });

/** A draft that is checked as it is typed, undone as a whole, and saved under its revision as soon as it is right; with who else has it open. */
export function useSaved<T extends object>({
  kind,
  id,
  initial,
  revision,
  schema,
  onSaved,
}: {
  kind: EditedKind;
  id: string;
  initial: T;
  revision: number;
  schema: z.ZodType<T>;
  onSaved?: () => void;
}) {
  const { draft, setDraft, ...history } = useDraft<T>(initial);
  const [isComing, startWriting] = useTransition();
  const write = useCallback((change: Change<T>) => startWriting(() => setDraft(change)), [setDraft]);
  const [saved, setSaved] = useState(revision);
  /** As it was when it was read, or saved last: what others make of it meanwhile is put beside that. */
  const [base, setBase] = useState(initial);
  // The next save may come before the screen is drawn with what the last one answered.
  const current = useRef(revision);
  const parsed = useMemo(() => parseWith(schema, draft), [schema, draft]);
  // What is wrong keeps nothing else from being saved.
  const good = useSame(
    useMemo(() => (parsed.ok ? draft : goodPart(base, draft, (one) => wrongIn(schema, one))), [parsed, schema, base, draft]),
  );
  const { state, retry } = useAutosave({
    draft: good,
    isComing,
    isPart: !parsed.ok,
    save: async (toSave) => {
      const result = await save(kind, id, { ...toSave, revision: current.current });
      if (result.ok) {
        current.current = result.value.revision;
        setBase(toSave);
        setSaved(result.value.revision);
        onSaved?.();
      }
      return result;
    },
  });
  /** Takes in what somebody else saved meanwhile; what both changed stands as it is here, and is told. */
  const putTogether = async (): Promise<void> => {
    const result = await call('GET /api/stored', { query: { kind, id } });
    if (!result.ok) return void toast.error(result.message);
    const keys = new Set(['shape' in schema ? Object.keys(schema.shape as object) : [], Object.keys(draft)].flat());
    const theirs = Object.fromEntries(Object.entries(result.value.document).filter(([key, value]) => keys.has(key) && value !== null)) as T;
    const { value, clashes } = mergeChanges(base, draft, theirs);
    current.current = result.value.revision;
    setBase(theirs);
    setDraft(value);
    retry();
    if (clashes.length > 0) toast(`Both of you changed ${clashWords(clashes)}: yours stands there`, { duration: 15_000 });
    else toast.success('Both changes are in it');
  };
  const { beside, stored } = useBeside(kind, id);
  const isSettled = state.kind === 'saved';
  return {
    kind,
    id,
    draft,
    setDraft,
    /** As `setDraft`, for what shows by itself what is typed into it: keys go before drawing all that hangs on the draft. */
    write,
    history,
    issues: parsed.ok ? [] : parsed.issues,
    isReady: parsed.ok,
    state,
    retry,
    putTogether,
    beside,
    /** Somebody saved a newer one; while this one is being saved nobody can tell. */
    isNewer: isSettled && typeof stored === 'number' && stored > saved,
    isGone: isSettled && stored === null,
  };
}
const wrongIn = <T>(schema: z.ZodType<T>, document: T): readonly Path[] => {
  const parsed = parseWith(schema, document);
  return parsed.ok ? [] : parsed.issues.map(({ path }) => path);
};

/** The same object for as long as it says the same. */
function useSame<T extends object>(value: T): T {
  const [kept, setKept] = useState(value);
  if (kept === value) return kept;
  if (JSON.stringify(kept) === JSON.stringify(value)) return kept;
  setKept(value);
  return value;
}

/** "name, rule: moment" */
const clashWords = (clashes: readonly (readonly string[])[]): string =>
  [...new Set(clashes.map(([first = 'it', ...rest]) => (rest.length > 0 ? `${first}: ${rest.at(-1)}` : first)))].slice(0, 5).join(', ');

export type Saved<T extends object> = ReturnType<typeof useSaved<T>>;
