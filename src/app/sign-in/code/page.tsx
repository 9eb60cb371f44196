import type { Metadata } from 'next';
import Link from 'next/link';
import { AccessForm } from '@/studio/frame/AccessForm';
import { codeAction } from '../actions';

export const metadata: Metadata = { title: 'Second step' };

export default function CodePage() {
  return (
    <AccessForm
      title="Second step"
      note="The six digits that your authenticator shows, or one of your spare codes."
      fields={[{ name: 'code', label: 'Code', autoComplete: 'one-time-code' }]}
      act={codeAction}
      button="Sign in"
      busy="Signing in"
      below={
        <Link href="/sign-in" className="underline decoration-line underline-offset-4">
          Begin again
        </Link>
      }
    />
  );
}
