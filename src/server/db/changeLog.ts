import { newId } from './ids';
import type { Queryable } from './queryable';
import { many } from './queryable';

export type LoggedKind =
  'campaign' | 'segment' | 'place' | 'page set' | 'goal' | 'connection' | 'purpose' | 'picture' | 'starting point' | 'release' | 'setup';

export interface ToLog {
  readonly kind: LoggedKind;
  /** Id of what was changed. */
  readonly subject: string;
  /** As it is called now. */
  readonly name: string;
  /** "changed", "paused", "went back to release 3". */
  readonly did: string;
  /** As it was and as it is; nothing where there was or is nothing. */
  readonly before?: unknown;
  readonly after?: unknown;
}

export interface LoggedChange extends ToLog {
  readonly id: string;
  readonly at: Date;
  /** Null for what happens by itself. */
  readonly member: string | null;
}

/** Changes of one thing by one person that follow each other this closely are one. */
const TOGETHER_MINUTES = 10;

/** Writes a change down, or goes on with the last line where that says the same of the same thing. `by`: null for what happens by itself. */
export async function noteChange(
  db: Queryable,
  siteId: number,
  by: { readonly id: number; readonly name: string } | null,
  { kind, subject, name, did, before, after }: ToLog,
): Promise<void> {
  const json = (value: unknown): string | null => (value === undefined ? null : JSON.stringify(value));
  const { rowCount } = await db.query(
    `update change_log set at = now(), name = $5, after = $7
      where site_id = $1 and $6 = 'changed' and before is not null
        and id = (select id from change_log where site_id = $1 and kind = $2 and subject = $3 order by at desc, id desc limit 1)
        and member_id is not distinct from $4 and did = $6 and at > now() - make_interval(mins => ${TOGETHER_MINUTES})`,
    [siteId, kind, subject, by?.id ?? null, name, did, json(after)],
  );
  if (rowCount) return;
  await db.query(
    `insert into change_log (site_id, id, member_id, member, kind, subject, name, did, before, after)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
    [siteId, newId('log'), by?.id ?? null, by?.name ?? null, kind, subject, name, did, json(before), json(after)],
  );
}

export const LOG_PAGE = 100;

/** The newest changes, of those in which a text is found (who, what, its name); older than a line, where one is named. */
export async function listChanges(
  db: Queryable,
  siteId: number,
  { text = '', olderThan }: { text?: string | undefined; olderThan?: string | undefined } = {},
): Promise<LoggedChange[]> {
  return many<LoggedChange & Record<string, unknown>>(
    db,
    `select id, at, member, kind, subject, name, did, before, after from change_log
      where site_id = $1
        and ($2 = '' or position(lower($2) in lower(concat_ws(' ', member, kind, name, did))) > 0)
        and ($3::text is null or (at, id) < (select at, id from change_log where site_id = $1 and id = $3))
      order by at desc, id desc limit ${LOG_PAGE}`,
    [siteId, text, olderThan ?? null],
  );
}
