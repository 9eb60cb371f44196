'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Role } from '@/server/db/members';
import { call } from '../parts/net/call';
import type { Answered } from '../parts/net/send';
import { OneOf } from '../messages/Phrase';

const ROLES: readonly (readonly [Role, string])[] = [
  ['owner', 'owner'],
  ['editor', 'editor'],
  ['agent', 'agent'],
  ['viewer', 'viewer'],
];

const WHAT: { readonly [R in Role]: string } = {
  owner: 'everything: people, the site, connections, erasing',
  editor: 'everything that is published, leads and conversations',
  agent: 'conversations and leads',
  viewer: 'looks; sees nobody in particular and takes nothing out',
};

export interface MemberShown {
  readonly id: number;
  readonly name: string;
  readonly email: string;
  readonly role: Role;
  readonly isEmailProven: boolean;
  readonly hasFactor: boolean;
  /** UTC ms; null: not signed in now. */
  readonly seenAt: number | null;
}
export interface InvitationShown {
  readonly id: string;
  readonly email: string;
  readonly role: Role;
  readonly by: string;
  /** UTC ms. */
  readonly expiresAt: number;
}

const day = (at: number): string => new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

/** Who is of the site and what they may; and who is invited. */
export function Members({
  members,
  invitations,
  me,
}: {
  members: readonly MemberShown[];
  invitations: readonly InvitationShown[];
  me: number;
}) {
  const router = useRouter();
  const act = async (doing: Promise<Answered<unknown>>): Promise<void> => {
    const result = await doing;
    if (!result.ok) toast.error(result.message);
    router.refresh();
  };
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="members">
      <h2 id="members" className="text-lg font-bold">
        Who may do what
      </h2>
      <ul className="grid gap-2" aria-label="Who is of this site">
        {members.map(({ id, name, email, role, isEmailProven, hasFactor, seenAt }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-b border-line pb-2 last:border-0">
            <span className="min-w-0 flex-1 basis-64">
              <b>{name}</b>{' '}
              <span className="break-all text-soft">
                {email}
                {!isEmailProven && ', not proven: their link was handed over'}
              </span>
              <span className="block text-soft">
                {hasFactor ? 'second step' : 'password alone'} · {seenAt === null ? 'not signed in' : `seen ${day(seenAt)}`}
              </span>
            </span>
            <span>
              is{' '}
              <OneOf
                label={`What ${name} is`}
                value={role}
                options={ROLES}
                onChange={(next) => void act(call('PUT /api/members/{id}', { params: { id }, body: { role: next } }))}
              />
              : <span className="text-soft">{WHAT[role]}</span>
            </span>
            <button
              className="act-quiet"
              aria-label={`Take ${name} out`}
              onClick={() => void act(call('DELETE /api/members/{id}', { params: { id } }))}
            >
              {id === me ? 'Leave' : 'Take out'}
            </button>
          </li>
        ))}
        {invitations.map(({ id, email, role, by, expiresAt }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-x-3 border-b border-line pb-2 last:border-0">
            <span className="min-w-0 flex-1 break-all">
              {email} <span className="text-soft">{`invited as ${role} by ${by}, until ${day(expiresAt)}`}</span>
            </span>
            <button
              className="act-quiet"
              aria-label={`Take the invitation of ${email} back`}
              onClick={() => void act(call('DELETE /api/members/invitations/{id}', { params: { id } }))}
            >
              Take it back
            </button>
          </li>
        ))}
      </ul>
      <Invite />
    </section>
  );
}

function Invite() {
  const router = useRouter();
  const [email, setEmail] = useState('');
  const [role, setRole] = useState<Role>('editor');
  const [error, setError] = useState<string>();
  const [made, setMade] = useState<{ link?: string; isMailed: boolean; trouble?: string; email: string }>();
  const invite = async (): Promise<void> => {
    const result = await call('POST /api/members/invitations', { body: { email, role } });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    setMade({ ...result.value, email });
    setEmail('');
    router.refresh();
  };
  return (
    <form
      className="grid gap-2"
      aria-label="Invite somebody"
      onSubmit={(event) => {
        event.preventDefault();
        void invite();
      }}
    >
      <p className="flex flex-wrap items-baseline gap-x-2 gap-y-2">
        Invite
        <input
          className="field min-w-48 flex-1"
          type="email"
          aria-label="Email"
          placeholder="mara@example.com"
          maxLength={320}
          value={email}
          onChange={({ target }) => setEmail(target.value)}
        />
        as <OneOf label="What they become" value={role} options={ROLES} onChange={setRole} />
        <button className="act" disabled={email.trim() === ''}>
          Invite
        </button>
      </p>
      {error && (
        <p role="alert" className="text-danger">
          {error}
        </p>
      )}
      {made && (
        <p role="status" className="grid gap-1">
          {made.isMailed
            ? `The link is on its way to ${made.email}; it is good for a week.`
            : made.trouble
              ? `It could not be mailed (${made.trouble}). Hand the link over yourself; it is good for a week:`
              : `This studio does not mail. Hand the link to ${made.email} yourself; it is good for a week:`}
          {made.link && <code className="block rounded bg-bone p-2 break-all">{made.link}</code>}
        </p>
      )}
    </form>
  );
}
