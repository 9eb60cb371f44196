// A second of any process of the stack, on the same database.
import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { expect } from '@playwright/test';
import { freePort } from '../src/server/testing/freePort';
import { environmentOf } from './stack';

const COMMANDS = {
  collector: ['dist/server/collector.mjs'],
  worker: ['dist/server/worker.mjs'],
  analysis: ['dist/server/analysis.mjs'],
  studio: ['dist/server/studio.mjs'],
} as const;
const HEALTH = { collector: '/health', worker: '/health', analysis: '/health', studio: '/sign-in' } as const;

export class SecondProcess {
  private child: ChildProcess | undefined;

  private constructor(
    private readonly name: keyof typeof COMMANDS,
    private readonly port: number,
    private readonly env: Record<string, string>,
  ) {}

  /** Starts it and waits until it answers; `env` is put over what the first one has. */
  static async start(name: keyof typeof COMMANDS, env: Record<string, string> = {}): Promise<SecondProcess> {
    const second = new SecondProcess(name, await freePort(), env);
    await second.begin();
    return second;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async begin(): Promise<void> {
    this.child = spawn('node', [...COMMANDS[this.name]], {
      env: { ...environmentOf(this.name), ...this.env, PORT: String(this.port), NODE_ENV: 'production' },
      stdio: 'ignore',
    });
    await expect
      .poll(() =>
        fetch(this.url + HEALTH[this.name]).then(
          ({ status }) => status,
          () => 0,
        ),
      )
      .toBe(200);
  }

  /** Ends it as a fault of its own would. */
  async kill(): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await ended;
  }
}
