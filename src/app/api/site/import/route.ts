import { siteDocumentSchema } from '@/core/exchange/siteDocument';
import { issueWords, parseJsonWith } from '@/core/parsing/parse';
import { changing } from '@/server/db/changing';
import { findSite } from '@/server/db/sites';
import { importSite, NotBroughtIn } from '@/server/exchange/site';
import { answer, bytesOf, Refused } from '@/server/http/api';
import { PictureRefused } from '@/server/pictures/encode';

/** With all its pictures a site may be large. */
const MOST_BYTES = 200 * 1024 * 1024;

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const parsed = parseJsonWith(siteDocumentSchema, (await bytesOf(request, MOST_BYTES)).toString('utf8'));
    if (!parsed.ok) throw new Refused(422, 'body.shape', parsed.issues.slice(0, 5).map(issueWords).join('; '), parsed.issues.slice(0, 50));
    return changing(member, async (db, note) => {
      const site = await findSite(db, siteId);
      if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
      const came = await importSite(db, site, parsed.value);
      await note({ kind: 'setup', subject: 'import', name: `What was taken out of ${parsed.value.name}`, did: 'brought in' });
      return came;
    }).catch((cause: unknown) => {
      if (cause instanceof NotBroughtIn || cause instanceof PictureRefused) throw new Refused(422, cause.code, cause.message);
      throw cause;
    });
  });
}
