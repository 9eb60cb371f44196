'use client';

import { useRouter } from 'next/navigation';
import { startTransition } from 'react';

/** Instead of a screen that the server could not make; says what is safe and asks the server again. */
export function ScreenFailure({ reset }: { reset: () => void }) {
  const router = useRouter();
  return (
    <div className="m-6 max-w-xl sheet p-6" role="alert">
      <h1 className="mb-2 text-xl font-bold">This screen could not be loaded</h1>
      <p className="mb-4 text-soft">
        The server did not answer as it should; the database may be away for a moment. What was saved is safe.
      </p>
      <button
        className="act"
        onClick={() =>
          startTransition(() => {
            router.refresh();
            reset();
          })
        }
      >
        Load again
      </button>
    </div>
  );
}
