'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useEffect, useRef, useState } from 'react';
import type { Brand } from '@/core/brand/brand';
import { brandedFlow } from '@/core/brand/brand';
import type { Flow } from '@/core/flows/flow';
import type { Outcome } from '@/core/history/visitor';
import { showFlow } from '@/page/show/show';
import { Pick } from './Pick';
import { IN_STUDIO, playEntrance, standStill } from './useDrawn';

const SAID: Readonly<Record<Outcome, string>> = {
  shown: 'is shown',
  clicked: 'pressed',
  dismissed: 'closed',
  converted: 'sent',
  replied: 'answered',
};

/** A flow from one of its messages on, to be gone through by pressing and answering; nothing leaves the studio. */
export function TryHere({
  flow,
  start,
  brand,
  values,
  onClose,
}: {
  flow: Flow;
  start: string;
  brand: Brand;
  values: Readonly<Record<string, string>>;
  onClose: () => void;
}) {
  const [round, setRound] = useState(0);
  const [motion, setMotion] = useState<Motion>('made');
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <DialogPanel
        className="fixed inset-y-0 right-0 grid max-w-full grid-rows-[auto_minmax(0,1fr)_auto] border-s border-line bg-bone shadow-lg"
        style={{ width: Math.max(480, ...flow.messages.map((one) => ('width' in one ? (one.width ?? 0) : 0) + 80)) }}
      >
        <div className="flex items-center gap-3 border-b border-line px-4 py-3">
          <DialogTitle className="text-lg font-bold">Trying {start}</DialogTitle>
          <button className="act-quiet ms-auto" onClick={() => setRound(round + 1)}>
            From the beginning
          </button>
          <button className="act-quiet" onClick={onClose}>
            Done
          </button>
        </div>
        <Played key={`${round} ${motion}`} flow={flow} start={start} brand={brand} values={values} motion={motion} />
        <div className="grid gap-2 border-t border-line px-4 py-3">
          <Pick
            label="Motion"
            value={motion}
            options={['made', 'less']}
            words={{ made: 'as made', less: 'for who wants less' }}
            onChange={setMotion}
          />
          <p className="text-soft">Nothing is recorded or sent, and no link leads away.</p>
        </div>
      </DialogPanel>
    </Dialog>
  );
}

/** Visitors who have told their system that they want less motion see no entrance. */
type Motion = 'made' | 'less';

function Played({
  flow,
  start,
  brand,
  values,
  motion,
}: {
  flow: Flow;
  start: string;
  brand: Brand;
  values: Readonly<Record<string, string>>;
  motion: Motion;
}) {
  const stage = useRef<HTMLDivElement>(null);
  const [done, setDone] = useState<readonly string[]>([]);
  useEffect(() => {
    const around = stage.current;
    if (!around) return undefined;
    // A link that leads to another page would lead away from here.
    const stay = (event: Event): void => {
      if (event.composedPath().some((one) => one instanceof HTMLAnchorElement)) event.preventDefault();
    };
    around.addEventListener('click', stay, true);
    const end = showFlow(brandedFlow(flow, brand), start, {
      values,
      ...IN_STUDIO,
      onOutcome: (outcome) => setDone((before) => [...before, SAID[outcome]]),
      preview: (drawn) => {
        drawn.removeAttribute('data-crindle');
        drawn.setAttribute('data-tried', start);
        around.replaceChildren(drawn);
        standStill(drawn);
        if (motion === 'made') playEntrance(drawn);
      },
    });
    return () => {
      around.removeEventListener('click', stay, true);
      end();
    };
  }, [flow, start, brand, values, motion]);
  return (
    <div className="overflow-auto">
      <div ref={stage} className="grid min-h-80 grid-cols-[minmax(0,1fr)] content-center bg-[#dde2dc] p-6" />
      <p role="status" className="px-4 py-2 text-soft">
        {done.length === 0 ? 'Press or answer, as a visitor would.' : done.join(', then ')}
      </p>
    </div>
  );
}
