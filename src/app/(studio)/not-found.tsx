import Link from 'next/link';

export default function NotFound() {
  return (
    <div className="m-6 max-w-xl sheet p-6">
      <h1 className="mb-2 text-xl font-bold">That is not here</h1>
      <p className="mb-4 text-soft">It may have been deleted, or the address is mistyped.</p>
      <Link className="act" href="/today">
        Go to today
      </Link>
    </div>
  );
}
