import { Outbox } from './outbox';
import { createStandins } from './server';
import { createStranger } from './stranger';

const host = process.env['HOST'] ?? '127.0.0.1';
const outbox = new Outbox();
const server = createStandins(outbox);
await server.listen({ port: Number(process.env['PORT'] ?? 4703), host });
const smtp = process.env['CRINDLE_OUTBOX_PORT'];
if (smtp) await outbox.listen(Number(smtp), host);
const strange = process.env['CRINDLE_STRANGER_PORT'];
const stranger = strange ? await createStranger() : undefined;
stranger?.server.listen(Number(strange), host);
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.once(signal, () => {
    stranger?.server.close();
    void Promise.all([server.close(), ...(smtp ? [outbox.close()] : [])]).then(() => process.exit(0));
  });
