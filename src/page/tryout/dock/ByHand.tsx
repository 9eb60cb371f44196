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
    <>
      <h2 style={{ marginTop: '10px' }}>What is hard to do by hand</h2>
      <div class="row">
        <button type="button" class="act" onClick={moveToLeave}>
          Move to leave
        </button>
        <button type="button" class="act" aria-expanded={isReporting} onClick={() => setReporting(!isReporting)}>
          Report an event …
        </button>
      </div>
      {isReporting && (
        <Picker
          of="events"
          label="Name of the event"
          typed={(text) => ({ label: `report “${text}”`, value: text })}
          onPick={({ value }: Choice) => {
            report(String(value), {});
            setReporting(false);
          }}
        />
      )}
      <div class="row">
        <button type="button" class="act" onClick={() => hurry(seconds, { reads: true }, setLeft)}>
          Wait and read
        </button>
        <Amount label="Seconds to wait" value={seconds} most={3600} onChange={setSeconds} /> s
      </div>
      <div class="row">
        <button type="button" class="act" onClick={() => hurry(idle, { reads: false }, setLeft)}>
          Go idle
        </button>
        <Amount label="Seconds of doing nothing" value={idle} most={3600} onChange={setIdle} /> s
      </div>
      <div class="row">
        <button type="button" class="act" onClick={() => scrollTo(percent)}>
          Scroll
        </button>
        to <Amount label="Percent to scroll to" value={percent} most={100} onChange={setPercent} /> %
      </div>
      <div class="row">
        <button type="button" class="act" onClick={() => comeBack(days)}>
          Come back later
        </button>
        after <Amount label="Days until the next visit" value={days} most={540} onChange={setDays} /> days
      </div>
      <p role="status" class="soft">
        {left > 0 ? `the clock hurries: ${left} s to go` : ''}
      </p>
    </>
  );
}
