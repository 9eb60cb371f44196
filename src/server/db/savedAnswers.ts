import { orNameTaken } from './errors';
import type { Queryable } from './queryable';
import { many } from './queryable';

export interface SavedAnswer {
  readonly id: string;
  readonly name: string;
  readonly text: string;
}

export const listSavedAnswers = (db: Queryable, siteId: number): Promise<SavedAnswer[]> =>
  many<SavedAnswer & Record<string, unknown>>(db, `select id, name, text from saved_answer where site_id = $1 order by lower(name), id`, [
    siteId,
  ]);

/** @throws NameTaken */
export async function insertSavedAnswer(db: Queryable, siteId: number, { id, name, text }: SavedAnswer): Promise<void> {
  await orNameTaken(name, 'saved_answer_name_unique', () =>
    db.query(`insert into saved_answer (site_id, id, name, text) values ($1, $2, $3, $4)`, [siteId, id, name, text]),
  );
}

export async function deleteSavedAnswer(db: Queryable, siteId: number, id: string): Promise<boolean> {
  return (await db.query(`delete from saved_answer where site_id = $1 and id = $2`, [siteId, id])).rowCount === 1;
}
