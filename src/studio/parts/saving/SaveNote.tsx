import type { Issue } from '@/core/parsing/parse';
import { issueWords } from '@/core/parsing/parse';
import type { SaveState } from './useAutosave';

/** Says whether what stands here is saved, and if not, why and what to do. */
export function SaveNote({
  state,
  issues,
  retry,
  putTogether,
}: {
  state: SaveState;
  issues: readonly Issue[];
  retry: () => void;
  /** With what somebody else saved meanwhile. */
  putTogether?: () => Promise<void>;
}) {
  if (issues.length && state.kind !== 'failed') {
    return (
      <p role="alert" className="text-danger">
        Not saved: {issues.slice(0, 2).map(issueWords).join('; ')}. All else is {state.kind === 'saved' ? 'saved' : 'being saved'}.
      </p>
    );
  }
  switch (state.kind) {
    case 'saved':
      return (
        <p className="text-soft">
          {state.at === undefined
            ? 'saved'
            : `saved ${new Date(state.at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}`}
        </p>
      );
    case 'waiting':
    case 'saving':
      return <p className="text-soft">saving</p>;
    case 'failed':
      return (
        <p role="alert" className="flex items-center gap-2 text-danger">
          {state.message}
          {state.code === 'revision.outdated' ? (
            <>
              {putTogether && (
                <button className="act-quiet" onClick={() => void putTogether()}>
                  Put both together
                </button>
              )}
              <button className="act-quiet" onClick={() => location.reload()}>
                Load theirs
              </button>
            </>
          ) : (
            <button className="act-quiet" onClick={retry}>
              Try again
            </button>
          )}
        </p>
      );
  }
}
