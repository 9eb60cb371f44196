'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Answering } from '@/core/conversations/answering';
import { USUAL } from '@/core/conversations/answering';
import { call, fetched } from '../parts/net/call';
import { OneOf, Phrase } from '../messages/Phrase';

interface Known {
  readonly answering: Answering | null;
  readonly people: readonly { readonly member: number; readonly name: string }[];
}

const NEXT = [
  ['3', 'after 3 minutes'],
  ['5', 'after 5 minutes'],
  ['10', 'after 10 minutes'],
  ['30', 'after half an hour'],
  ['never', 'never'],
] as const;

/** Who gets a campaign's conversations, as a sentence; holds from the next one on, without a release. */
export function AnsweringLine({ campaign }: { campaign: string }) {
  const { data } = useQuery({
    queryKey: ['answering', campaign],
    queryFn: () => fetched('GET /api/campaigns/{id}/answering', { params: { id: campaign } }),
  });
  return data && <Sentence key={campaign} campaign={campaign} data={data} />;
}

const LIST = new Intl.ListFormat('en-GB', { type: 'disjunction' });

function Sentence({ campaign, data }: { campaign: string; data: Known }) {
  const known = useQueryClient();
  const [answering, setAnswering] = useState<Answering>(data.answering ?? USUAL);
  const change = async (next: Partial<Answering>): Promise<void> => {
    const whole = { ...answering, ...next };
    setAnswering(whole);
    const result = await call('PUT /api/campaigns/{id}/answering', { params: { id: campaign }, body: { answering: whole } });
    if (result.ok) return void known.setQueryData(['answering', campaign], { ...data, answering: whole });
    setAnswering(answering);
    toast.error(result.message);
  };
  const { who, how, knows, next } = answering;
  const names = who === 'all' ? [] : data.people.filter(({ member }) => who.includes(member)).map(({ name }) => name);
  return (
    <p className="font-display text-base leading-7 text-soft" role="group" aria-label="Who gets its conversations">
      <b className="text-ink">Its conversations</b> go to{' '}
      <Phrase label="Who" words={who === 'all' ? 'whoever is here' : names.length > 0 ? LIST.format(names) : 'nobody of the team'}>
        {() => (
          <div className="grid gap-1">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={who === 'all'}
                onChange={({ target }) => void change({ who: target.checked ? 'all' : data.people.map(({ member }) => member) })}
              />
              whoever is here
            </label>
            {data.people.map(({ member, name }) => (
              <label key={member} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  disabled={who === 'all'}
                  checked={who === 'all' || who.includes(member)}
                  onChange={({ target }) => {
                    const now = who === 'all' ? [] : who;
                    const members = target.checked ? [...now, member] : now.filter((one) => one !== member);
                    if (members.length > 0) void change({ who: members });
                  }}
                />
                {name}
              </label>
            ))}
          </div>
        )}
      </Phrase>
      ,{' '}
      <OneOf
        label="How"
        value={how}
        options={[
          ['turn', 'in turn'],
          ['least', 'whoever has least'],
        ]}
        onChange={(value) => void change({ how: value })}
      />
      ;{' '}
      <OneOf
        label="Known"
        value={knows ? 'yes' : 'no'}
        options={[
          ['yes', 'whoever wrote with them before comes first'],
          ['no', 'whoever wrote with them before does not matter'],
        ]}
        onChange={(value) => void change({ knows: value === 'yes' })}
      />
      ; who does not answer passes it on{' '}
      <OneOf
        label="Next"
        value={next === null ? 'never' : String(next)}
        options={
          next === null || NEXT.some(([value]) => value === String(next)) ? NEXT : [[String(next), `after ${next} minutes`], ...NEXT]
        }
        onChange={(value) => void change({ next: value === 'never' ? null : Number(value) })}
      />
      .{' '}
      <Link className="text-soft underline decoration-line underline-offset-4 hover:text-ink" href="/setup/people">
        people and hours
      </Link>
    </p>
  );
}
