import { useQuery } from '@tanstack/react-query';
import type { Brand } from '@/core/brand/brand';
import { fetched } from '../parts/net/call';

export const BRAND = ['brand'];
const NONE: Brand = {};

/** What all messages of the site have in common; nothing until it is there. */
export function useBrand(): Brand {
  const { data = NONE } = useQuery({
    queryKey: BRAND,
    queryFn: ({ signal }) => fetched('GET /api/site/brand', { signal }),
  });
  return data;
}
