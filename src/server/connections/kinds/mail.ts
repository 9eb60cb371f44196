import { plainHtml } from '../../mail/html';
import type { Mail } from '../../mail/mailer';
import { canMail, sendMail } from '../../mail/mailer';
import type { Exchanged, Kind, LeadToSend } from './kind';

/** An SMTP answer of 5.. is for good; everything else may be otherwise the next time. */
async function mailed(mail: Mail): Promise<Exchanged> {
  try {
    await sendMail(mail);
    return { verdict: { is: 'sent' }, status: null, note: '' };
  } catch (cause) {
    const note = cause instanceof Error ? cause.message : String(cause);
    const code = (cause as { responseCode?: number }).responseCode;
    return { verdict: { is: code !== undefined && code >= 500 ? 'never' : 'later', reason: note }, status: code ?? null, note };
  }
}

const text = ({ at, email, campaign, url, fields, consent }: LeadToSend): string =>
  [
    `${email ?? 'Somebody without an email'} wrote on ${at}, from “${campaign.name ?? campaign.id}” on ${url}.`,
    Object.entries(fields)
      .map(([name, value]) => `${name}: ${String(value)}`)
      .join('\n'),
    ...(consent.length > 0 ? [`Agreed to: ${consent.map(({ words }) => `“${words}”`).join(', ')}`] : []),
  ].join('\n\n');

export const mailKind: Kind<'mail'> = {
  check: ({ settings: { to }, now }) =>
    canMail()
      ? mailed({
          id: `check.${now}`,
          to,
          subject: 'A check of Crindle’s',
          text: 'Leads will be mailed here.',
          html: plainHtml('Leads will be mailed here.'),
        })
      : Promise.resolve({
          verdict: { is: 'never', reason: 'no mail server is named' },
          status: null,
          note: 'No mail server is named: CRINDLE_MAIL_URL names one',
        }),
  lead: (lead, { settings: { to }, delivery }) =>
    mailed({
      id: delivery,
      to,
      subject: `A lead from ${lead.campaign.name ?? lead.campaign.id}`,
      text: text(lead),
      html: plainHtml(text(lead)),
    }),
};
