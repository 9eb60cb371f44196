// `./crindle test faults`: the collector under kills, mutated requests, floods, a database in trouble, clocks that are off, connections
// that misbehave, the studio under mutated requests with every role, and strangers: with everybody's emails, with calendars that never end, ten
// thousand at once, guessing, hanging up; and PostgreSQL killed where it is kept. `--small` runs all of it on little.
import { started } from '../ground';
import { runCalendars } from './attacks/calendars';
import { runDropped } from './attacks/dropped';
import { runEmails } from './attacks/emails';
import { runGuesses } from './attacks/guesses';
import { runPostmaster } from './attacks/postmaster';
import { runStreams } from './attacks/streams';
import { runClocks } from './clocks';
import { runDeliveries } from './deliveries';
import { runFlood } from './flood';
import { runFuzz } from './fuzz';
import { runKills } from './kills';
import { runStudio } from './studio';
import { runTalks } from './talks';
import { runTrouble } from './trouble';

const RUNS = {
  kills: runKills,
  fuzz: runFuzz,
  flood: runFlood,
  trouble: runTrouble,
  clocks: runClocks,
  deliveries: runDeliveries,
  talks: runTalks,
  studio: runStudio,
  emails: runEmails,
  calendars: runCalendars,
  streams: runStreams,
  guesses: runGuesses,
  postmaster: runPostmaster,
  dropped: runDropped,
} as const;

const names = process.argv.slice(2).filter((word) => word !== '--small');
const unknown = names.find((name) => !(name in RUNS));
if (unknown) {
  console.error(`There is no run "${unknown}"; there are ${Object.keys(RUNS).join(', ')}`);
  process.exit(2);
}
const endAll = (): void => {
  for (const { process: child } of started) child.kill('SIGKILL');
};
process.on('exit', endAll);
let failed = 0;
for (const name of names.length ? names : Object.keys(RUNS)) {
  const wrongs = await RUNS[name as keyof typeof RUNS]();
  for (const wrong of wrongs.slice(0, 20)) console.log(`  WRONG ${wrong}`);
  failed += wrongs.length;
}
process.exit(failed ? 1 : 0);
