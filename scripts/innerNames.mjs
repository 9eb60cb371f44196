// Names of what the page script's parts hand one another and nobody else sees: they are shortened in the built script, the
// same way in every part. What travels, is stored, is exported by a part or belongs to the browser must not stand here; the
// build fails where one is a key of anything that the collector sends or takes.
import { readdirSync, readFileSync } from 'node:fs';

const INNER_NAMES = `
lastInput idleSince clickedOn watches wakesAt wake visitElapsed visitEngaged visitClicks scrolled shares reached
takePiece decideWith noteAdBlocker loaded decideFor onOtherTab flush siteKey newId onAnswer onShow onActivity
listeners fails later shownHere follow hold turn fits fitsWakesAt candidates unknownShows holds closeAll
deps loadChat firstSeen onOutcome onSend onAct onPlace onEnd preview isAsked perform refill onRemove
tell emit save store line fault ask merge also about records fetchRelease openedAt`
  .split(/\s+/)
  .filter(Boolean);

/** What pages hand over by name: attributes of the script and of elements, and the methods of our one global. */
const OF_PAGES = ['site', 'consent', 'pageEvent', 'crindleLabel', 'q', 'running', 'did', 'person', 'tag', 'score', 'open', 'on', 'stop'];

/** Every key that a JSON schema in `value` describes. */
function keysOf(value, keys = new Set()) {
  if (typeof value !== 'object' || value === null) return keys;
  if (typeof value.properties === 'object') for (const key of Object.keys(value.properties)) keys.add(key);
  for (const inner of Object.values(value)) keysOf(inner, keys);
  return keys;
}

/** What terser takes for it; throws where a name is also one that travels. */
export function innerNames(docs) {
  const files = [`${docs}openapi-collector.json`, ...readdirSync(`${docs}formats`).map((file) => `${docs}formats/${file}`)];
  const described = files.filter((file) => file.endsWith('.json')).flatMap((file) => [...keysOf(JSON.parse(readFileSync(file, 'utf8')))]);
  const travels = new Set([...OF_PAGES, ...described]);
  const both = INNER_NAMES.filter((name) => travels.has(name));
  if (both.length) throw new Error(`scripts/innerNames.mjs: ${both.join(', ')} would be shortened, but travels under that name`);
  return new RegExp(`^(${INNER_NAMES.join('|')})$`);
}
