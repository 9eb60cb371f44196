import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import type { EditedKind } from '@/server/db/trash';
import { call } from '../net/call';
import type { Answered } from '../net/send';
import { EDITED } from './edited';

/** How long one can take a deletion back from the note about it. */
const UNDO_MS = 12_000;

/** Deletes a thing and offers to bring it back. A refusal is returned, and told by whoever asked. */
export function useRemove(): (what: { kind: EditedKind; id: string; name: string }) => Promise<Answered<unknown>> {
  const router = useRouter();
  return async ({ kind, id, name }) => {
    const result = await call(`DELETE ${EDITED[kind].api}/{id}`, { params: { id } });
    if (!result.ok) return result;
    const undo = async (): Promise<void> => {
      const back = await call('POST /api/trash', { body: { kind, id } });
      if (!back.ok) return void toast.error(back.message);
      toast.success(`“${name}” is back`);
      router.refresh();
    };
    toast(`Deleted the ${EDITED[kind].what} “${name}”`, {
      duration: UNDO_MS,
      action: { label: 'Undo', onClick: () => void undo() },
    });
    return result;
  };
}
