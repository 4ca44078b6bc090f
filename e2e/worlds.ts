import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FullConfig } from '@playwright/test';
import type { Place } from './demo';

const root = existsSync('/dev/shm') ? '/dev/shm' : tmpdir();
const name = 'mendry-e2e-';

/** How many ports, one after the other, a worker's demo takes, and what its tests start beside it. */
const span = 60;

const free = (port: number) =>
  new Promise<boolean>((is) => {
    const s = createServer();
    s.once('error', () => is(false));
    s.listen(port, '127.0.0.1', () => s.close(() => is(true)));
  });

/** The first of so many free ports, below those that the machine hands out by itself. */
async function freePorts(taken: number[]): Promise<number> {
  for (;;) {
    const base = 10_000 + Math.floor(Math.random() * 360) * span;
    if (taken.includes(base)) continue;
    const all = await Promise.all(Array.from({ length: span }, (_, i) => free(base + i)));
    if (all.every(Boolean)) return base;
  }
}

const alive = (pid: number) => existsSync(`/proc/${pid}`);

/** Takes away what a run that was killed has left, and nothing of one that goes on. */
function clear() {
  for (const folder of readdirSync(root).filter((f) => f.startsWith(name))) {
    if (alive(Number(folder.slice(name.length)))) continue;
    for (const world of readdirSync(join(root, folder))) {
      const pid = join(root, folder, world, 'pid');
      const left = existsSync(pid) ? Number(readFileSync(pid, 'utf8')) : 0;
      // Its number may be another program's by now.
      if (left && alive(left) && readFileSync(`/proc/${left}/cmdline`, 'utf8').includes(join(root, folder, world))) process.kill(left, 'SIGKILL');
    }
    rmSync(join(root, folder), { recursive: true, force: true });
  }
}

/** Finds a place for each worker's demo, and for what is started beside it; all of it is gone when the run is through. */
export default async function worlds(config: FullConfig) {
  clear();
  const own = join(root, `${name}${process.pid}`);
  mkdirSync(join(own, 'tmp'), { recursive: true });
  process.env.TMPDIR = join(own, 'tmp'); // of the workers, the browser, and what tests start
  const places: Place[] = [];
  for (let i = 0; i < config.workers; i++) places.push({ base: await freePorts(places.map((p) => p.base)), dir: join(own, `w${i}`) });
  process.env.MENDRY_PLACES = JSON.stringify(places);
  process.env.MENDRY_BEGAN = `${Date.now()}`;
  return () => rmSync(own, { recursive: true, force: true });
}
