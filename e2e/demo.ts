import { type BrowserContext, test as base } from '@playwright/test';
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { closeSync, cpSync, existsSync, mkdirSync, openSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** Where a demo of a worker's own listens and keeps its data, as worlds.ts has found them free. */
export type Place = { base: number; dir: string };

const program = resolve('../bin/mendry');
const log = (dir: string) => join(dir, '..', `${dir.split('/').at(-1)}.log`);

/**
 * When tests take place, for demo and browser (RFC 3339): a moment that is the same whenever they are run, so that none
 * holds today and falls on another day. MENDRY_NOW tries another one. Go's have the same (internal/tries).
 */
const moment = process.env.MENDRY_NOW ?? '2026-12-01T10:00:00Z';
const ahead = Date.parse(moment) - Number(process.env.MENDRY_BEGAN);

/** A whole demo: its Mendry, database, hosts, mailbox and files. */
export class Demo {
  private process?: ChildProcess;

  /** How long the hosts' caches keep a page for visitors. */
  cache = '1s';

  constructor(readonly place: Place) {}

  /** The time as it has it. */
  private now = () => new Date(Date.now() + ahead).toISOString();

  /** Starts it on what lies in its folder, filled where nothing does, and waits until all of its data is there. */
  async start() {
    const { base, dir } = this.place;
    mkdirSync(dir, { recursive: true });
    const said = openSync(log(dir), 'a');
    const mark = readFileSync(log(dir), 'utf8').length;
    const child = spawn(program, ['demo', '--dir', dir, '--base', `${base}`, '--cache', this.cache, '--now', this.now()], { stdio: ['ignore', said, said] });
    closeSync(said);
    this.process = child;
    writeFileSync(join(dir, 'pid'), `${child.pid}`);
    let ended = false;
    child.once('exit', () => (ended = true));
    // Filled for the first time, its pictures are drawn: half a minute, on a machine that has nothing else to do.
    for (const until = Date.now() + 300_000; ; await new Promise((on) => setTimeout(on, 30))) {
      const says = readFileSync(log(dir), 'utf8').slice(mark);
      if (says.includes('Mendry is at')) return;
      if (ended || Date.now() > until) throw new Error(`the demo did not start:\n${says.slice(-3000)}`);
    }
  }

  /** Ends it as a power cut would, or so that it writes down everything first. */
  async end(signal: 'SIGKILL' | 'SIGTERM' = 'SIGKILL') {
    const child = this.process;
    this.process = undefined;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const file = join(this.place.dir, 'db', 'pid');
    const database = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0;
    const gone = new Promise((on) => child.once('exit', on));
    child.kill(signal);
    await gone;
    while (database && existsSync(`/proc/${database}`)) await new Promise((on) => setTimeout(on, 10)); // it ends with its Mendry
  }

  /** Waits until it has done all that follows from having been filled. */
  private async rests() {
    const ask = () => `SELECT COUNT(*) FROM job WHERE due <= '${this.now().slice(0, -1)}'`;
    const left = () => execFileSync('mariadb', ['--no-defaults', '-S', join(this.place.dir, 'db', 's'), '-N', '-e', ask(), 'mendry'], { encoding: 'utf8' }).trim();
    for (const until = Date.now() + 300_000; left() !== '0'; await new Promise((on) => setTimeout(on, 100)))
      if (Date.now() > until) throw new Error(`the demo has ${left()} jobs left`);
  }

  /** Starts it again with what it held once it was filled for the first time, whatever has been made of that since. */
  async putBack() {
    const filled = `${this.place.dir}.filled`;
    await this.end();
    rmSync(this.place.dir, { recursive: true, force: true });
    if (!existsSync(filled)) {
      await this.start();
      await this.rests();
      await this.end('SIGTERM');
      renameSync(this.place.dir, filled);
    }
    cpSync(filled, this.place.dir, { recursive: true, preserveTimestamps: true });
    await this.start();
  }
}

const places: Place[] = JSON.parse(process.env.MENDRY_PLACES ?? '[]');
const worker = Number(process.env.TEST_PARALLEL_INDEX ?? 0);
export const { base: ports, dir } = places[worker] ?? { base: 0, dir: '' };

/** Lets a browser have the time of its demo. */
export const shifted = (context: BrowserContext) =>
  context.addInitScript((ahead) => {
    const Real = Date;
    const now = () => Real.now() + ahead;
    class Shifted extends Real {
      constructor(...args: [] | ConstructorParameters<typeof Date>) {
        super(...((args.length ? args : [now()]) as [number]));
      }
      static override now = now;
    }
    (window as unknown as { Date: unknown }).Date = Shifted;
  }, ahead);

/** Every test begins with the demo as it was first filled: what another test made is not there. */
export const test = base.extend<{ begun: void; cache: string }, { demo: Demo }>({
  cache: ['1s', { option: true }],
  demo: [
    async ({}, use) => {
      const demo = new Demo({ base: ports, dir });
      await use(demo);
      await demo.end();
    },
    { scope: 'worker', auto: true },
  ],
  begun: [
    async ({ demo, cache }, use) => {
      demo.cache = cache;
      await demo.putBack();
      await use();
    },
    { auto: true, timeout: 400_000 },
  ],
  context: async ({ context }, use) => {
    await shifted(context);
    await use(context);
  },
  baseURL: `http://localhost:${ports}`,
});
