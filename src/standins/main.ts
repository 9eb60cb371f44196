import { Outbox } from './outbox';
import { createStandins } from './server';

const outbox = new Outbox();
const server = createStandins(outbox);
await server.listen({ port: Number(process.env['PORT'] ?? 4703), host: process.env['HOST'] ?? '127.0.0.1' });
const smtp = process.env['CRINDLE_OUTBOX_PORT'];
if (smtp) await outbox.listen(Number(smtp), process.env['HOST'] ?? '127.0.0.1');
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.once(signal, () => void Promise.all([server.close(), ...(smtp ? [outbox.close()] : [])]).then(() => process.exit(0)));
