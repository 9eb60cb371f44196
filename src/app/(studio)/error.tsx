'use client';

export default function StudioError({ reset }: { reset: () => void }) {
  return (
    <div className="m-6 max-w-xl sheet p-6" role="alert">
      <h1 className="mb-2 text-xl font-bold">This screen could not be loaded</h1>
      <p className="mb-4 text-soft">
        The server did not answer as it should; the database may be away for a moment. What was saved is safe.
      </p>
      <button className="act" onClick={reset}>
        Load again
      </button>
    </div>
  );
}
