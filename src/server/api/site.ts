import { createHash, randomBytes } from 'node:crypto';
import { siteDocumentSchema } from '@/core/exchange/siteDocument';
import { findingsOf } from '@/core/install/look';
import { budgetSchema } from '@/core/pacing/pacing';
import { issueWords, parseJsonWith } from '@/core/parsing/parse';
import { changing } from '../db/changing';
import { putAside, tryAgain } from '../db/failedTasks';
import { findCurrentRelease } from '../db/releases';
import { poolOf } from '../db/sharedPool';
import { findSigning, findSite, setAddresses, setBrand, setBudget, setEventsSecret, setPrivacy, setSigning } from '../db/sites';
import { leaveTeam } from '../db/team';
import { exportSite, importSite, NotBroughtIn } from '../exchange/site';
import { bytesOf, ownerAllows } from '../http/api';
import { download } from '../http/downloads';
import { Refused } from '../http/refused';
import { addressesSchema, brandChangeSchema, failedSchema, lookSchema, privacySchema, signingSchema } from '../http/requests';
import { ref } from '../openapi/shapes';
import { PictureRefused } from '../pictures/refused';
import { collectorUrl } from '../pictures/url';
import { checkSite } from '../sites/check';
import { fetchAsStranger, lookAt, NotLookedAt, scriptAt } from '../sites/look';
import { endpoint, file } from './endpoint';

/** With all its pictures a site may be large. */
const MOST_BYTES = 200 * 1024 * 1024;

/** Our own servers, which may stand on this machine. */
const ownOrigins = (): string[] =>
  [process.env['CRINDLE_SITE_ORIGIN'], collectorUrl()].flatMap((url) => (url && URL.canParse(url) ? [new URL(url).origin] : []));

export const siteEndpoints = [
  endpoint({
    method: 'POST',
    path: '/api/failed',
    right: 'edit',
    says: 'What a job could not do of one thing is tried again at once, or put aside',
    body: failedSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId }, body: { does, ...which } }) => {
      const isThere =
        does === 'again' ? await tryAgain(poolOf(siteId), siteId, which, Date.now()) : await putAside(poolOf(siteId), siteId, which);
      if (!isThere) throw new Refused(404, 'notFound', 'That is not in the list any more: it was done, or put aside');
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/site/addresses',
    right: 'own',
    says: 'The site’s addresses',
    body: addressesSchema,
    answers: 'Nothing more',
    run: async ({ member, body: { addresses } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = (await findSite(db, siteId))?.addresses;
        await setAddresses(db, siteId, [...new Set(addresses)]);
        await note({
          kind: 'setup',
          subject: 'addresses',
          name: 'the addresses',
          did: 'changed',
          before,
          after: [...new Set(addresses)],
        });
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/site/brand',
    right: 'look',
    says: 'What all messages have in common: looks, senders and values',
    answers: 'The brand',
    run: async ({ member: { siteId } }) => (await findSite(poolOf(siteId), siteId))?.brand ?? {},
  }),
  endpoint({
    method: 'PUT',
    path: '/api/site/brand',
    right: 'edit',
    says: 'The brand, if it is still as it was read',
    body: brandChangeSchema,
    answers: 'Nothing more; visitors see it with the next release',
    run: async ({ member, body: change }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        if (await setBrand(db, siteId, change))
          return note({
            kind: 'setup',
            subject: 'brand',
            name: 'the brand',
            did: 'changed',
            before: change.was,
            after: change.brand,
          });
        throw new Refused(
          409,
          'outdated',
          'Somebody has changed the brand since you opened it. Nothing was saved; load the page again to see it.',
        );
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/site/budget',
    right: 'edit',
    says: 'What all campaigns together may show',
    body: budgetSchema(),
    bodyShape: ref('Budget'),
    answers: 'Nothing more; visitors see it with the next release',
    run: async ({ member, body: after }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = (await findSite(db, siteId))?.budget;
        await setBudget(db, siteId, after);
        await note({
          kind: 'setup',
          subject: 'budget',
          name: 'the budget',
          did: 'changed',
          before,
          after,
        });
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/site/check',
    right: 'look',
    says: 'Whether the script is on the site',
    answers: 'Where it was seen, what was turned away, its faults, the release that is live',
    run: ({ member: { siteId } }) => checkSite(poolOf(siteId), siteId),
  }),
  endpoint({
    method: 'POST',
    path: '/api/site/events-secret',
    right: 'own',
    says: 'A new secret for events from the site’s own server',
    answers: 'The secret, this once',
    run: async ({ member }) => {
      const { siteId } = member;
      const secret = randomBytes(32).toString('base64url');
      return changing(member, async (db, note) => {
        await setEventsSecret(db, siteId, createHash('sha256').update(secret).digest());
        await note({
          kind: 'setup',
          subject: 'events secret',
          name: 'events from the site’s server',
          did: 'given a new secret',
        });
        return { secret };
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/site/import',
    right: 'edit',
    says: 'Bring in what /site.json took out of another site, all or nothing, under ids of its own',
    bodyShape: ref('SiteDocument'),
    answers: 'How many of what came in',
    run: async ({ member, request }) => {
      const { siteId } = member;
      const parsed = parseJsonWith(siteDocumentSchema, (await bytesOf(request, MOST_BYTES)).toString('utf8'));
      if (!parsed.ok)
        throw new Refused(422, 'body.shape', parsed.issues.slice(0, 5).map(issueWords).join('; '), parsed.issues.slice(0, 50));
      return changing(member, async (db, note) => {
        const site = await findSite(db, siteId);
        if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
        const { came } = await importSite(db, site, parsed.value);
        await note({ kind: 'setup', subject: 'import', name: `What was taken out of ${parsed.value.name}`, did: 'brought in' });
        return came;
      }).catch((cause: unknown) => {
        if (cause instanceof NotBroughtIn || cause instanceof PictureRefused) throw new Refused(422, cause.code, cause.message);
        throw cause;
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/site/look',
    right: 'edit',
    says: 'Fetch a page as a stranger would, and say whether the script’s line stands in it and how; nothing inside the network is fetched unless an owner allows it',
    body: lookSchema,
    answers: 'Where it was found and what was; of a script whether it is ours: current, older or none',
    run: async ({ member, body: { url, as, allowPrivate = false } }) => {
      const { siteId } = member;
      ownerAllows(member, { allowPrivate });
      const options = { own: ownOrigins(), allowPrivate };
      try {
        if (as === 'script') {
          const ours = (await fetchAsStranger(`${collectorUrl()}/page.js`, options)).body;
          return { script: await scriptAt(url, ours, options) };
        }
        const db = poolOf(siteId);
        const [site, release] = [await findSite(db, siteId), await findCurrentRelease(db, siteId)];
        if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
        const looked = await lookAt(url, options);
        return {
          url: looked.url,
          findings: findingsOf(looked, {
            collector: collectorUrl(),
            siteKey: site.key,
            siteName: site.name,
            addresses: site.addresses,
            asks: site.consent === 'asked',
            hasRelease: release !== undefined,
          }),
        };
      } catch (cause) {
        if (cause instanceof NotLookedAt) throw new Refused(422, cause.code, `url: ${cause.message}`);
        throw cause;
      }
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/site/privacy',
    right: 'own',
    says: 'Consent, and the parameters that are kept',
    body: privacySchema,
    answers: 'Nothing more',
    run: async ({ member, body: { consent, keptParameters } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const site = await findSite(db, siteId);
        await setPrivacy(db, siteId, { consent, keptParameters: [...new Set(keptParameters)] });
        await note({
          kind: 'setup',
          subject: 'privacy',
          name: 'privacy',
          did: 'changed',
          before: { consent: site?.consent, keptParameters: site?.keptParameters },
          after: { consent, keptParameters },
        });
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/site/signing',
    right: 'own',
    says: 'Whether only persons that the site has signed are believed; a new secret to sign them with',
    body: signingSchema,
    answers: 'The secret, where a new one was made: it is not shown again',
    run: async ({ member, body: { isRequired, newSecret } }) => {
      const { siteId } = member;
      const secret = newSecret && randomBytes(32).toString('base64url');
      return changing(member, async (db, note) => {
        if (isRequired && !secret && (await findSigning(db, siteId)).secret === null)
          throw new Refused(
            409,
            'signing.noSecret',
            'isRequired: met true without a secret; make one first and give it to the site’s server',
          );
        await setSigning(db, siteId, { isRequired, secret });
        // The secret itself is in no log.
        await note({
          kind: 'setup',
          subject: 'signing',
          name: 'signed persons',
          did: secret ? 'given a new secret' : 'changed',
          after: { isRequired },
        });
        return { ...(secret ? { secret } : {}) };
      });
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/team/{id}',
    right: 'edit',
    says: 'Says that a browser is not one of the team’s any more',
    answers: 'Nothing more',
    run: async ({ member, params: { id } }) => {
      const { siteId } = member;
      const number = Number(id);
      return changing(member, async (db, note) => {
        if (!Number.isInteger(number) || number < 1 || number > 2 ** 31 - 1 || !(await leaveTeam(db, siteId, number)))
          throw new Refused(404, 'notFound', `No browser of the team has the number ${id.slice(0, 20)}`);
        await note({ kind: 'setup', subject: `team ${number}`, name: 'Our browsers', did: 'changed' });
      });
    },
  }),
  file({
    path: '/site.json',
    right: 'export',
    says: 'Everything that people wrote for the site, to keep or to bring into another',
    answers: 'One document',
    run: async ({ member: { siteId } }) => {
      const site = await findSite(poolOf(siteId), siteId);
      if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
      return download('site.json', 'application/json', JSON.stringify(await exportSite(poolOf(siteId), site)));
    },
  }),
] as const;
