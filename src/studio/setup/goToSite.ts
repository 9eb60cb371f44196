import { send } from '../parts/net/send';

/** Goes on at another site, with everything read anew; why not, where that is refused. */
export async function goToSite(id: number): Promise<string | undefined> {
  const chosen = await send('POST', `/api/sites/${id}`);
  if (!chosen.ok) return chosen.message;
  window.location.assign('/today');
  return undefined;
}
