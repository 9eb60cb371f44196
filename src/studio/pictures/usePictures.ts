import { useQuery } from '@tanstack/react-query';
import { send } from '../parts/net/send';

export interface KeptPicture {
  readonly hash: string;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly size: number;
  readonly url: string;
}

export const PICTURES = ['pictures'];
const NONE: readonly KeptPicture[] = [];

/** The site's pictures, newest first. */
export function usePictures(): readonly KeptPicture[] {
  const { data = NONE } = useQuery({
    queryKey: PICTURES,
    queryFn: async ({ signal }) => {
      const met = await send<KeptPicture[]>('GET', '/api/pictures', undefined, signal);
      if (!met.ok) throw new Error(met.message);
      return met.value;
    },
  });
  return data;
}
