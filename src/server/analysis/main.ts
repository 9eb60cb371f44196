// The process that counts and rehearses, for any number of studios.
import { availableParallelism } from 'node:os';
import { cannotStart } from '../http/ports';
import { createAnalysisServer } from './server';
import { Threads } from './threads';

/** The budget where nobody says another. */
const MEGABYTES = 1024;

const megabytes = Number(process.env['CRINDLE_ANALYSIS_MB'] ?? MEGABYTES);
if (!(megabytes >= 64)) {
  console.error(`CRINDLE_ANALYSIS_MB: met "${process.env['CRINDLE_ANALYSIS_MB']}", expected megabytes, at least 64`);
  process.exit(2);
}
const threads = new Threads(new URL('./analysisThread.mjs', import.meta.url), { threads: availableParallelism(), megabytes });
const server = createAnalysisServer(threads, { token: process.env['CRINDLE_ANALYSIS_TOKEN'] });
const port = Number(process.env['PORT'] ?? 4703);
server.on('error', (cause) => cannotStart('analysis', port, cause));
server.listen(port, process.env['HOST'] ?? '127.0.0.1');

for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.once(signal, () => {
    server.close();
    server.closeAllConnections();
    void threads.end().then(() => process.exit(0));
  });
