import { newId } from '@/server/db/ids';
import { insertSavedAnswer, listSavedAnswers } from '@/server/db/savedAnswers';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { savedAnswerSchema } from '@/server/http/requests';

export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => ({ answers: await listSavedAnswers(poolOf(siteId), siteId) }));
}

export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { name, text } = await bodyAs(request, savedAnswerSchema);
    const id = newId('ans');
    await insertSavedAnswer(poolOf(siteId), siteId, { id, name, text });
    return { id };
  });
}
