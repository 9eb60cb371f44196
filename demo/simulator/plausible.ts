import { measureView } from '@/core/pacing/replay';
import { pieceItemSchema } from '@/core/wire/items';

export interface RecordedTimeline {
  readonly signals: readonly unknown[];
  /** In ms since the opening. */
  readonly leave: number;
  readonly engaged: number;
  /** The deepest reached, in percent. */
  readonly scroll: number;
  readonly watched: readonly string[];
  readonly cannotScroll?: boolean | undefined;
}

const PRINT = /^[a-z][a-z0-9-]*(#[^\s]+)?(\.[^\s]+)?$/;
/** Bursts are told at their beginning and their end, and the next one cannot begin before that. */
const LEAST_BETWEEN_BURSTS_MS = 2500;
const ROUNDING_MS = 5;

/** What in a timeline the page script cannot have recorded; empty where it may well have. */
export function doubtsAbout({ signals: given, leave, engaged, scroll, watched, cannotScroll }: RecordedTimeline): string[] {
  const parsed = pieceItemSchema.shape.signals.safeParse(given);
  if (!parsed.success) return [`a signal has another form: ${parsed.error.issues[0]?.path.join('.')} ${parsed.error.issues[0]?.message}`];
  const signals = parsed.data;
  const doubts: string[] = [];
  const doubt = (is: boolean, words: string): void => {
    if (is) doubts.push(words);
  };
  let isHidden = false;
  let depth: number | undefined;
  signals.forEach((signal, index) => {
    const { t, s } = signal;
    const at = `${s} at ${t}`;
    doubt(t > leave, `${at} after the page was left at ${leave}`);
    doubt(t < (signals[index - 1]?.t ?? 0), `${at} before the signal that stands before it`);
    doubt(!Number.isInteger(t), `${at} is no whole number of ms`);
    const hidden = signals.findLast((one, before) => before < index && one.s === 'hide');
    // The end of a burst may be told when the tab has just gone.
    doubt(
      isHidden && s !== 'show' && s !== 'event' && s !== 'whole' && !(s === 'input' && t === hidden?.t),
      `${at} while the tab was hidden`,
    );
    if (s === 'hide') isHidden = true;
    if (s === 'show') {
      doubt(!isHidden, `${at} though the tab was not hidden`);
      isHidden = false;
    }
    if (s === 'scroll') {
      doubt(cannotScroll === true, `${at} on a page that cannot be scrolled`);
      doubt(signal.depth === depth || !Number.isInteger(signal.depth), `${at} to ${signal.depth} from ${depth}`);
      depth = signal.depth;
    }
    if (s === 'seen') doubt(!watched.includes(signal.selector), `${at} of ${signal.selector}, which nobody watched`);
    if (s === 'click') {
      doubt(
        signal.on.some((selector) => !watched.includes(selector)),
        `${at} on what nobody watched`,
      );
      doubt(signal.what === undefined || !PRINT.test(signal.what) || signal.what.length > 60, `${at} on ${signal.what}`);
    }
  });
  const byHand = signals.filter(({ s }) => s === 'scroll' || s === 'click' || s === 'exit');
  const inputs = signals.filter(({ s }) => s === 'input');
  doubt(byHand.length > 0 && inputs.length === 0, 'scrolled, clicked or left with no input');
  doubt(inputs.length > 2 + (2 * leave) / LEAST_BETWEEN_BURSTS_MS, `${inputs.length} inputs in ${leave} ms`);
  doubt(signals.at(-1)?.s !== 'hide', 'left without being hidden');

  const measured = measureView({ at: 0, signals, leave, before: { cannotScroll } });
  doubt(Math.abs(measured.engagedMs - engaged) > ROUNDING_MS, `engaged ${engaged} ms, by its signals ${measured.engagedMs}`);
  doubt(Math.floor(measured.depth) !== Math.floor(scroll), `scrolled to ${scroll}, by its signals ${measured.depth}`);
  return doubts;
}
