import { call } from '../parts/net/call';

/** Goes on at another site, with everything read anew; why not, where that is refused. */
export async function goToSite(id: number): Promise<string | undefined> {
  const chosen = await call('POST /api/sites/{id}', { params: { id } });
  if (!chosen.ok) return chosen.message;
  window.location.assign('/today');
  return undefined;
}
