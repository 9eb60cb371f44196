import { useQuery } from '@tanstack/react-query';
import { fetched } from '../parts/net/call';

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
    queryFn: ({ signal }) => fetched('GET /api/pictures', { signal }),
  });
  return data;
}
