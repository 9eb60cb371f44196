'use client';

import type { SegmentDocument } from '@/core/rules/schema';
import { call } from '../parts/net/call';
import { RowMenu } from '../parts/layout/RowMenu';
import { unusedName } from '../parts/saving/unusedName';
import { useRemove } from '../parts/saving/useRemove';
import { useTakenNames } from './takenNames';

export function SegmentRowMenu({
  id,
  segment: { name, lookback, people },
}: {
  id: string;
  segment: Pick<SegmentDocument, 'lookback' | 'people'> & { name: string };
}) {
  const remove = useRemove();
  const names = useTakenNames();
  return (
    <RowMenu
      name={name}
      actions={[
        { words: 'Open', does: { href: `/segments/${id}` } },
        {
          words: 'Duplicate',
          does: {
            run: () => call('POST /api/segments', { body: { name: unusedName(`${name.slice(0, 190)} copy`, names), lookback, people } }),
          },
        },
        { words: 'Take out JSON', does: { file: `/segments.json?id=${id}` } },
        { words: 'Delete', does: { run: () => remove({ kind: 'segment', id, name }) } },
      ]}
    />
  );
}
