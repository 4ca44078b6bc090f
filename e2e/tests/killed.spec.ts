import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { base, draft, field, inBlock, kept, newRequest, openBench, signIn, take } from '../world';

// A Mendry of its own, database and all, that is killed while somebody types, as by a power cut, and started again.
const own = base + 200;
const folder = mkdtempSync(join(tmpdir(), 'mendry-killed-'));
let mendry: ChildProcess;

async function start(...more: string[]) {
  mendry = spawn('../bin/mendry', ['demo', '--dir', folder, '--base', `${own}`, ...more], { stdio: 'ignore' });
  await expect
    .poll(() => fetch(`http://localhost:${own}/api/people`).then((r) => r.status, () => 0), { timeout: 90_000 })
    .toBe(200);
}

async function kill() {
  const dead = new Promise((done) => mendry.once('exit', done));
  mendry.kill('SIGKILL');
  await dead;
}

test.use({ baseURL: `http://localhost:${own}` });
test.afterAll(() => void mendry?.kill());

test('no key is lost when the server is killed in the middle of a word, twice', async ({ page }) => {
  await start('--fresh');
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Say more about drying, please.');
  await openBench(page, number, '/articles/keeping-seed');
  await take(page, 'Seed keeps when it is dry');
  await inBlock(page, 'end');
  await page.keyboard.press('Enter');
  const typed = 'Nobody minds a cloth bag under the roof, and mice do not either, until March.';
  for (const [i, key] of [...typed].entries()) {
    if (i === 20 || i === 55) {
      await kill();
      setTimeout(() => void start(), 1500); // meanwhile somebody types on
    }
    await page.keyboard.press(key);
    await page.waitForTimeout(60);
  }
  await expect(field(page)).toContainText(typed);
  await kept(page);
  await page.reload();
  await expect(draft(page).getByText(typed, { exact: true })).toBeVisible();
});
