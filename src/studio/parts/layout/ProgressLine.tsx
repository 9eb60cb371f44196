/** How far something that takes long has come: a hairline with the part that is done drawn over it; a part that walks along where that is not known. */
export function ProgressLine({ label, done, of }: { label: string; done?: number | undefined; of?: number | undefined }) {
  const isKnown = done !== undefined && of !== undefined && of > 0;
  return (
    <span
      role="progressbar"
      aria-label={label}
      {...(isKnown ? { 'aria-valuemin': 0, 'aria-valuemax': of, 'aria-valuenow': done } : {})}
      className="relative inline-block h-[3px] w-20 overflow-hidden bg-line align-middle"
    >
      <span
        className={`absolute inset-y-0 bg-moment ${isKnown ? 'left-0' : 'walking w-1/3'}`}
        style={isKnown ? { width: `${(100 * done) / of}%` } : undefined}
      />
    </span>
  );
}
