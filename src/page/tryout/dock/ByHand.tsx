/** @jsxImportSource preact */
import { useState } from 'preact/hooks';
import type { Choice } from '@/core/tryout/asked';
import { comeBack, hurry, moveToLeave, report, scrollTo } from './doing';
import { Picker } from './Picker';

/** A number beside what it is for; only what is one is taken over. */
function Amount({ label, value, most, onChange }: { label: string; value: number; most: number; onChange: (value: number) => void }) {
  return (
    <input
      class="field"
      type="number"
      min="1"
      max={most}
      aria-label={label}
      value={value}
      onInput={({ currentTarget: { valueAsNumber } }) => valueAsNumber >= 1 && valueAsNumber <= most && onChange(valueAsNumber)}
    />
  );
}

export function ByHand() {
  const [seconds, setSeconds] = useState(20);
  const [idle, setIdle] = useState(60);
  const [percent, setPercent] = useState(40);
  const [days, setDays] = useState(1);
  const [left, setLeft] = useState(0);
  const [isReporting, setReporting] = useState(false);
  return (
    <div class="hand" role="group" aria-label="What is hard to do by hand">
      <button type="button" class="act" onClick={moveToLeave}>
        Move to leave
      </button>
      <span class="pair">
        <button type="button" class="act" onClick={() => hurry(seconds, { reads: true }, setLeft)}>
          Wait
        </button>
        <Amount label="Seconds to wait" value={seconds} most={3600} onChange={setSeconds} /> s
      </span>
      <span class="pair">
        <button type="button" class="act" onClick={() => hurry(idle, { reads: false }, setLeft)}>
          Go idle
        </button>
        <Amount label="Seconds of doing nothing" value={idle} most={3600} onChange={setIdle} /> s
      </span>
      <span class="pair">
        <button type="button" class="act" onClick={() => scrollTo(percent)}>
          Scroll
        </button>
        to <Amount label="Percent to scroll to" value={percent} most={100} onChange={setPercent} /> %
      </span>
      <span class="pair">
        <button type="button" class="act" onClick={() => comeBack(days)}>
          Come back
        </button>
        after <Amount label="Days until the next visit" value={days} most={540} onChange={setDays} /> days
      </span>
      <button type="button" class="act" aria-expanded={isReporting} onClick={() => setReporting(!isReporting)}>
        Report an event …
      </button>
      <span role="status" class="soft">
        {left > 0 ? `the clock hurries: ${left} s to go` : ''}
      </span>
      {isReporting && (
        <div class="editor">
          <Picker
            of="events"
            label="Name of the event"
            typed={(text) => ({ label: `report “${text}”`, value: text })}
            onPick={({ value }: Choice) => {
              report(String(value), {});
              setReporting(false);
            }}
          />
        </div>
      )}
    </div>
  );
}
