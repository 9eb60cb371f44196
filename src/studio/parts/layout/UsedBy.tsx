import Link from 'next/link';
import type { User } from '@/server/segments/users';

const AREAS: Readonly<Record<User['kind'], string>> = { campaign: 'campaigns', segment: 'segments', goal: 'setup/goals' };

/** What names this, and a warning where that is live: the site goes on with what was published until the next release. */
export function UsedBy({ users }: { users: readonly User[] }) {
  if (users.length === 0) return null;
  const live = users.filter(({ isLive }) => isLive);
  return (
    <p className={live.length ? 'border-l-2 border-moment pl-3' : 'text-soft'}>
      Used by{' '}
      {users.map(({ kind, id, name }, index) => (
        <span key={id}>
          {index > 0 && ', '}
          <Link className="font-semibold underline" href={`/${AREAS[kind]}/${id}`}>
            {name}
          </Link>
        </span>
      ))}
      .{' '}
      {live.length > 0 && (
        <>
          {live.length === 1 ? 'One of them is live' : `${live.length} of them are live`}: a change here reaches visitors with the next
          release, not before.
        </>
      )}
    </p>
  );
}
