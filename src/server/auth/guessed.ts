import type { Mail } from '../mail/mailer';
import { plainHtml } from '../mail/html';
import { studioUrl } from './reset';
import { tokenHash } from './token';

/** To whose password is known to somebody who guesses at codes. `ticket`: of the sign-in in which it came to that. */
export function guessedMail(email: string, ticket: string): Mail {
  const text = `Somebody signed in as you in Crindle with the right password, and then typed ten codes that were not right. No more are looked at for an hour.\n\nIf it was not you, somebody knows your password. Choose another one:\n\n${studioUrl('/account')}`;
  return {
    id: `guessed.${tokenHash(ticket).toString('hex').slice(0, 24)}`,
    to: email,
    subject: 'Ten wrong codes for your account in Crindle',
    text,
    html: plainHtml(text),
  };
}
