import type { Metadata } from 'next';
import { AccessForm } from '@/studio/frame/AccessForm';
import { forgotAction } from './actions';

export const metadata: Metadata = { title: 'A new password' };

export default function ForgotPage() {
  return (
    <AccessForm
      title="A new password"
      note="A link to choose one comes by mail."
      fields={[{ name: 'email', label: 'Email', type: 'email', autoComplete: 'username' }]}
      act={forgotAction}
      button="Send the link"
      busy="Sending it"
    />
  );
}
