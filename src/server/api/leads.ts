import { Readable } from 'node:stream';
import { LEAD_TERM_KINDS, leadTerms } from '@/core/leads/filter';
import { changing } from '../db/changing';
import { eachLead, eraseLeads, leadVocabulary, setLeadNotes, tagLeads, withdrawConsent } from '../db/leads';
import { poolOf, readingOf } from '../db/sharedPool';
import { leadColumns, leadLine } from '../exchange/leads';
import { demand } from '../http/api';
import { csvResponse } from '../http/downloads';
import { Refused } from '../http/refused';
import { leadNotesSchema, leadsSchema } from '../http/requests';
import { endpoint, file } from './endpoint';

const LEAD_QUERY = Object.fromEntries(LEAD_TERM_KINDS.map((kind) => [kind, { type: 'string' }]));

export const leadsEndpoints = [
  endpoint({
    method: 'PUT',
    path: '/api/leads/{id}',
    right: 'answer',
    says: 'Tags and the note of a lead',
    body: leadNotesSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId }, body: notes, params: { id } }) => {
      const tags = notes.tags && [...new Set(notes.tags)];
      if (!(await setLeadNotes(poolOf(siteId), siteId, { id, tags, note: notes.note })))
        throw new Refused(404, 'notFound', 'That lead is not here any more. What you typed is still on the screen.');
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/leads/{id}/withdrawn',
    right: 'edit',
    says: 'Whoever sent the lead took their consent back: they are taken out wherever their leads were sent',
    answers: 'Nothing more',
    run: async ({ member, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        if (!(await withdrawConsent(db, siteId, id)))
          throw new Refused(404, 'notFound', 'That lead is not here any more, or its consent was taken back before.');
        await note({ kind: 'setup', subject: 'leads', name: 'One person’s consent', did: 'taken back' });
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/leads',
    right: 'answer',
    says: 'Another tag for several leads, or erase them for good',
    body: leadsSchema,
    answers: 'How many',
    run: async ({ member, body: asked }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        if (asked.does === 'tag') return { leads: await tagLeads(db, siteId, asked) };
        demand(member, 'own');
        const leads = await eraseLeads(db, siteId, asked.ids);
        if (leads > 0)
          await note({
            kind: 'setup',
            subject: 'leads',
            name: leads === 1 ? 'One lead' : `${leads} leads`,
            did: 'erased',
          });
        return { leads };
      });
    },
  }),
  file({
    path: '/leads.csv',
    right: 'export',
    says: 'Leads, all or those that the parameters of the list choose; a column for each answer',
    type: 'text/csv',
    alsoAsked: LEAD_QUERY,
    answers: 'CSV (RFC 4180)',
    run: async ({ member: { siteId }, request }) => {
      const db = await (await readingOf(siteId)).caughtUp();
      const { terms } = leadTerms(new URL(request.url).searchParams);
      const columns = leadColumns((await leadVocabulary(db, siteId)).answers);
      const rows = async function* (): AsyncGenerator<string[]> {
        for await (const lead of eachLead(db, siteId, { terms })) yield columns.map(({ of }) => of(lead));
      };
      return csvResponse(
        'leads.csv',
        columns.map(({ name }) => name),
        rows(),
      );
    },
  }),
  file({
    path: '/leads.jsonl',
    right: 'export',
    says: 'The same as JSON lines',
    type: 'application/jsonl',
    alsoAsked: LEAD_QUERY,
    answers: 'A lead a line',
    run: async ({ member: { siteId }, request }) => {
      const db = await (await readingOf(siteId)).caughtUp();
      const { terms } = leadTerms(new URL(request.url).searchParams);
      const lines = async function* (): AsyncGenerator<string> {
        for await (const lead of eachLead(db, siteId, { terms })) yield `${leadLine(lead)}\n`;
      };
      return new Response(Readable.toWeb(Readable.from(lines())) as ReadableStream, {
        headers: {
          'content-type': 'application/jsonl; charset=utf-8',
          'content-disposition': 'attachment; filename="leads.jsonl"',
          'cache-control': 'no-store',
        },
      });
    },
  }),
] as const;
