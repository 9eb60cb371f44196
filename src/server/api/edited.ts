import type { References } from '@/core/rules/references';
import type { LoggedKind } from '../db/changeLog';
import { changing } from '../db/changing';
import { newId } from '../db/ids';
import type { Member } from '../db/members';
import type { Queryable } from '../db/queryable';
import type { EditedKind } from '../db/trash';
import { moveToTrash } from '../db/trash';
import { Refused } from '../http/refused';
import { usersInWords, usersOf } from '../segments/users';

/** What is known of a kind of thing that people name, save under its revision, and delete into the trash. */
interface Edited<
  Document extends { readonly name: string },
  Made extends { readonly id: string },
  Saved extends { readonly revision: number },
> {
  readonly table: EditedKind;
  readonly log: LoggedKind;
  /** What its ids begin with. */
  readonly prefix: string;
  /** Refused while something names it. */
  readonly usedAs?: keyof References;
  readonly find: (db: Queryable, siteId: number, id: string) => Promise<Document | undefined>;
  readonly insert: (db: Queryable, siteId: number, id: string, document: Document) => Promise<Made>;
  readonly update: (db: Queryable, siteId: number, id: string, document: Document & { readonly revision: number }) => Promise<Saved>;
  /** Of what is kept, what people write. */
  readonly written: (document: Document) => Document;
  /** Refuses what cannot be kept. */
  readonly check?: (db: Queryable, siteId: number, id: string, document: Document) => Promise<void>;
  /** Before it goes. */
  readonly leave?: (db: Queryable, siteId: number, id: string) => Promise<void>;
}

/** How such a thing is made, saved and deleted, each with its line in the log. */
export function edited<D extends { readonly name: string }, M extends { readonly id: string }, S extends { readonly revision: number }>({
  table,
  log: kind,
  prefix,
  usedAs,
  find,
  insert,
  update,
  written,
  check,
  leave,
}: Edited<D, M, S>) {
  return {
    make: ({ member, body }: { member: Member; body: D }): Promise<M> => {
      const id = newId(prefix);
      return changing(member, async (db, note) => {
        await check?.(db, member.siteId, id, body);
        const made = await insert(db, member.siteId, id, body);
        await note({ kind, subject: id, name: body.name, did: 'made', after: written(body) });
        return made;
      });
    },
    save: ({ member, body, params: { id } }: { member: Member; body: D & { revision: number }; params: { id: string } }): Promise<S> =>
      changing(member, async (db, note) => {
        const before = await find(db, member.siteId, id);
        if (!before) throw new Refused(404, 'notFound', `This ${kind} was deleted elsewhere. What you typed is still here.`);
        await check?.(db, member.siteId, id, body);
        const saved = await update(db, member.siteId, id, body);
        await note({ kind, subject: id, name: body.name, did: 'changed', before: written(before), after: written(body) });
        return saved;
      }),
    remove: ({ member, params: { id } }: { member: Member; params: { id: string } }): Promise<void> =>
      changing(member, async (db, note) => {
        const users = usedAs ? await usersOf(db, member.siteId, usedAs, id) : [];
        if (users.length) throw new Refused(409, `${table}.used`, `It is used by ${usersInWords(users)}. Take it out there first.`);
        const before = await find(db, member.siteId, id);
        await leave?.(db, member.siteId, id);
        await moveToTrash(db, table, member.siteId, id);
        if (before) await note({ kind, subject: id, name: before.name, did: 'deleted', before: written(before) });
      }),
  };
}
