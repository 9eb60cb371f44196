/** What a process ends with whose port is another's; `scripts/keep.sh` writes it down, and `./crindle status` says it. */
const PORT_TAKEN = 98;

/** Says why a process cannot answer on its port, and ends it. */
export function cannotStart(name: string, port: number, cause: unknown): never {
  const isTaken = (cause as { code?: unknown }).code === 'EADDRINUSE';
  console.error(`The ${name} cannot start: ${isTaken ? `port ${port} is another program’s` : String(cause)}`);
  process.exit(isTaken ? PORT_TAKEN : 1);
}
