// The part that watches elements and looks for an ad blocker: loaded only where a rule asks for either.
export { checkAdBlocker } from '../facts/adBlocker';
export { watchElements } from './elements';
