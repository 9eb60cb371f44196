import { headers } from 'next/headers';
import type { From } from '../auth/signIn';
import { ADDRESS_HEADER } from './address';

export async function fromWhere(): Promise<Required<From>> {
  const given = await headers();
  return { address: given.get(ADDRESS_HEADER) ?? 'unknown', agent: given.get('user-agent') ?? '' };
}
