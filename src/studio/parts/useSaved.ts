import { useMemo, useRef } from 'react';
import type { z } from 'zod';
import { parseWith } from '@/core/rules/parse';
import { send } from './send';
import { useAutosave } from './useAutosave';
import { useDraft } from './useDraft';

/** A draft that is checked as it is typed, undone as a whole, and saved under its revision as soon as it is right. */
export function useSaved<T extends object>({
  initial,
  revision,
  schema,
  api,
}: {
  initial: T;
  revision: number;
  schema: z.ZodType<T>;
  api: string;
}) {
  const { draft, setDraft, ...history } = useDraft<T>(initial);
  const current = useRef(revision);
  const parsed = useMemo(() => parseWith(schema, draft), [schema, draft]);
  const { state, retry } = useAutosave({
    draft,
    isReady: parsed.ok,
    save: async (toSave) => {
      const result = await send<{ revision: number }>('PUT', api, { ...toSave, revision: current.current });
      if (result.ok) current.current = result.value.revision;
      return result;
    },
  });
  return { api, draft, setDraft, history, issues: parsed.ok ? [] : parsed.issues, isReady: parsed.ok, state, retry };
}
export type Saved<T extends object> = ReturnType<typeof useSaved<T>>;
