import { type ChildProcess, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ports, blockText, expect, field, inBlock, newRequest, signIn, soon, test, thisPageOnly } from '../world';

// Pages that nobody here wrote: the templates of startbootstrap (MIT), installed as development dependencies.
const edit = `127.0.0.1:${ports + 43}`;
const visitors = `127.0.0.1:${ports + 44}`;
const wanted = Number(process.env.MENDRY_PARTS ?? (process.env.MENDRY_LONG ? 200 : 15));
const perPage = 22;
let folder = '';
let standin: ChildProcess;

interface Part {
  id: string;
  kind: string;
  edit: string;
  locked: string;
  parent: string;
}
interface Bench {
  draft: string;
  parts: Part[];
  changes: { state: string }[];
}

test.beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'mendry-real-'));
  for (const name of readdirSync('node_modules').filter((n) => n.startsWith('startbootstrap-'))) {
    const from = join('node_modules', name, 'dist');
    if (!existsSync(from)) continue;
    const pages = readdirSync(from).filter((f) => f.endsWith('.html'));
    mkdirSync(join(folder, name));
    for (const page of pages.slice(0, 2)) cpSync(join(from, page), join(folder, name, page));
  }
  standin = spawn('../bin/mendry', ['standin', '--dir', folder, '--edit', edit, '--public', visitors, '--cache', '1s']);
});
test.afterAll(() => void standin.kill());

test(`one letter typed in ${wanted} real parts and deleted again leaves the bytes as they were`, async ({ page }) => {
  test.setTimeout(900_000);
  await signIn(page, 'ruth');
  await page.goto('/sites/add');
  await page.getByLabel('Name', { exact: true }).fill('Pages of others');
  await page.getByLabel('Public address').fill(`http://${visitors}/`);
  await page.getByLabel('Address of the host').fill(`http://${edit}/`);
  await page.getByLabel('Name at the host').fill('keeper');
  await page.getByLabel('Password at the host').fill('keeper');
  await page.getByLabel('Client’s name').fill('Pages of others');
  await page.getByLabel('Who answers there').fill('Odo Page');
  await page.getByLabel('Mail address').fill('odo@others.example');
  await page.getByRole('button', { name: 'Add and take in the pages' }).click();
  await expect(page.getByRole('heading', { name: /^\d\d pages$/ })).toBeVisible({ timeout: 60_000 });
  const site = Number(page.url().split('/').at(-1));
  const number = await newRequest(page, 'Pages of others', 'Look at every part.');
  const view = await (await page.request.get(`/api/sites/${site}`)).json();
  let tried = 0;
  let locked = 0;
  for (const p of view.pages as { id: number; path: string; address: string }[]) {
    if (tried >= wanted) break;
    const live = createHash('sha256').update(readFileSync(join(folder, p.path))).digest('hex');
    const bench: Bench = await (await page.request.get(`/api/requests/${number}/bench/${p.id}`)).json();
    expect(bench.draft).toBe(live);
    const all = bench.parts.filter((q) => ['heading', 'words', 'link', 'button', 'cell'].includes(q.kind));
    for (const q of all.filter((q) => q.locked)) {
      locked++;
      expect(q.locked.length, 'a reason').toBeGreaterThan(10);
    }
    const open = all.filter((q) => !q.locked);
    const some = open.filter((_, i) => Math.floor((i * perPage) / open.length) !== Math.floor(((i - 1) * perPage) / open.length));
    await page.goto(`/requests/${number}/bench/${p.id}`);
    await expect(page.getByText('Point at a part of the page')).toBeVisible();
    for (const q of some.slice(0, wanted - tried)) {
      await test.step(`${p.address} ${q.id}`, async () => {
        // As the list of parts does, without drawing the page anew for each.
        await page.evaluate((to) => {
          history.pushState({}, '', to);
          dispatchEvent(new PopStateEvent('popstate'));
        }, `/requests/${number}/bench/${p.id}?part=${q.id}`);
        await thisPageOnly(page);
        await expect(field(page)).toBeFocused();
        const plain = (s: string) => s.replace(/<[^>]*>/g, '').replaceAll('&nbsp;', ' ').replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&amp;', '&').replaceAll('\u00a0', ' ').trim();
        await soon(async () => plain(await blockText(page))).toBe(plain(q.edit));
        const typed = async (key: string) => {
          const answer = page.waitForResponse((r) => r.request().method() === 'POST' && r.url().endsWith(`/bench/${p.id}`));
          await page.keyboard.press(key);
          const got = await answer;
          expect(got.status(), await got.text()).toBe(200);
          return (await got.json()) as Bench;
        };
        await inBlock(page, 'end');
        const after = await typed('x');
        expect(after.draft).not.toBe(live);
        const back = await typed('Backspace');
        expect(back.draft, `${p.path} ${q.id}: ${q.edit}`).toBe(live);
        expect(back.changes).toHaveLength(0);
        tried++;
      });
    }
  }
  console.log(`typed in ${tried} parts of pages that nobody here wrote; ${locked} are locked with a reason`);
  expect(tried).toBe(wanted);
});
