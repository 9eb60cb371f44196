import { createStandins } from './server';

const server = createStandins();
await server.listen({ port: Number(process.env['PORT'] ?? 4703), host: process.env['HOST'] ?? '127.0.0.1' });
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => void server.close().then(() => process.exit(0)));
