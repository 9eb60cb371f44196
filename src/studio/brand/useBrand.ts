import { useQuery } from '@tanstack/react-query';
import type { Brand } from '@/core/brand/brand';
import { send } from '../parts/net/send';

export const BRAND = ['brand'];
const NONE: Brand = {};

/** What all messages of the site have in common; nothing until it is there. */
export function useBrand(): Brand {
  const { data = NONE } = useQuery({
    queryKey: BRAND,
    queryFn: async ({ signal }) => {
      const met = await send<Brand>('GET', '/api/site/brand', undefined, signal);
      if (!met.ok) throw new Error(met.message);
      return met.value;
    },
  });
  return data;
}
