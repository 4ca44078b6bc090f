import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { axe, ports, choose, draft, expect, files, inBlock, kept, letter, point, signIn, test, thisPageOnly, words } from '../world';

// A plain folder of HTML that is not the demo's, on a stand-in host of its own.
const edit = `127.0.0.1:${ports + 41}`;
const visitors = `127.0.0.1:${ports + 42}`;
const fares = '<!DOCTYPE html>\r\n<meta charset=utf-8>\r\n<title>Tide Lane Bakery</title>\r\n<h1>Bread</h1>\r\n<p>A loaf is <b>£3.10</b> today.</p>\r\n';
let folder = '';
let standin: ChildProcess;

test.beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'mendry-own-'));
  mkdirSync(join(folder, 'shop'));
  writeFileSync(join(folder, 'index.html'), fares);
  writeFileSync(join(folder, 'shop/index.html'), fares.replace('Bread', 'Shop'));
  writeFileSync(join(folder, 'wide.html'), Buffer.from(`\ufeff${fares}`, 'utf16le'));
  standin = spawn('../bin/mendry', ['standin', '--dir', folder, '--edit', edit, '--public', visitors, '--cache', '1s']);
});
test.afterAll(() => void standin.kill());

test('a site of one’s own: added, changed, published, undone; what goes wrong is said', async ({ page, request }) => {
  await signIn(page, 'ruth');
  await page.goto('/');
  await page.getByRole('link', { name: 'Sites', exact: true }).click();
  await page.getByRole('link', { name: 'Add a site' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Tide Lane Bakery');
  await page.getByLabel('Public address').fill(`http://${visitors}/`);
  await page.getByLabel('Address of the host').fill(`http://${edit}/`);
  await page.getByLabel('Name at the host').fill('keeper');
  await page.getByLabel('Client’s name').fill('Tide Lane Bakery');
  await page.getByLabel('Who answers there').fill('Odo Baker');
  await page.getByLabel('Mail address').fill('odo@tide-lane.example');
  await page.getByLabel('We may clear changes ourselves').check();

  await test.step('a wrong password, a wrong address', async () => {
    await page.getByLabel('Password at the host').fill('wrong');
    await page.getByRole('button', { name: 'Try both addresses' }).click();
    await expect(page.getByText('does not accept the name and password')).toBeVisible();
    await expect(page.getByText('Visitors get a page there: “Tide Lane Bakery”.')).toBeVisible();
    await page.getByLabel('Address of the host').fill(`http://${visitors}/`);
    await page.getByRole('button', { name: 'Try both addresses' }).click();
    await expect(page.getByText('does not speak WebDAV')).toBeVisible();
    await axe(page);
  });

  await test.step('taken in, with what cannot be edited locked and why', async () => {
    await page.getByLabel('Address of the host').fill(`http://${edit}/`);
    await page.getByLabel('Password at the host').fill('keeper');
    await page.getByRole('button', { name: 'Try both addresses' }).click();
    await expect(page.getByText('It has 3 pages and 0 other files.')).toBeVisible();
    await page.getByRole('button', { name: 'Add and take in the pages' }).click();
    await expect(page.getByRole('heading', { name: '3 pages' })).toBeVisible();
    await expect(page.getByText('The page is written in UTF-16LE.')).toBeVisible();
    await axe(page);
  });

  const before = files(folder);
  await test.step('a call, taken in and changed by keyboard', async () => {
    await letter(page, 'n');
    await page.getByLabel('What the client wrote or said').fill('A loaf costs £3.40 from today.');
    await page.getByRole('combobox', { name: 'Site', exact: true }).selectOption({ label: 'Tide Lane Bakery' });
    await page.getByRole('combobox', { name: 'How it came' }).selectOption('call');
    await page.getByLabel('What the client wrote or said').press('Control+Home');
    await page.getByRole('button', { name: 'Keep and read it' }).press('Enter');
    await expect(page.getByText('No wish is marked yet')).toBeVisible();
    await page.evaluate(() => {
      const n = document.querySelector('[aria-label="The letter"] .letter span')!.firstChild!;
      getSelection()!.setBaseAndExtent(n, 0, n, n.textContent!.length);
    });
    await letter(page, 'm');
    await page.getByRole('combobox', { name: 'Where on Tide Lane Bakery?' }).fill('loaf');
    const first = page.getByRole('option', { name: /Opening words A loaf/ }).first();
    await expect(first).toHaveAttribute('data-highlighted', '');
    await page.keyboard.press('Enter');
    await expect(page.getByText('· Opening words')).toBeVisible();
    await letter(page, 'b');
    await expect(draft(page).getByText('£3.10')).toBeVisible();
    await expect(page.getByRole('textbox', { name: 'Words', exact: true })).toBeFocused();
    await page.keyboard.press('Escape'); // the words are put down, letters act again
    await letter(page, 'p');
    await page.getByLabel('Narrow the list of parts').fill('loaf');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await choose(page, '£3.10');
    await page.keyboard.type('£3.40'); // bold stays where it was
    await kept(page);
    await expect(draft(page).locator('b')).toHaveText('£3.40');
    await axe(page);
  });

  await test.step('somebody else edits the page meanwhile: nothing is overwritten, both stand', async () => {
    writeFileSync(join(folder, 'index.html'), fares.replace('<h1>Bread', '<h1>Bread and cake'));
    await page.reload();
    await expect(page.getByText('Somebody else changed the live page')).toBeVisible();
    await page.getByRole('button', { name: 'Take in the newer page' }).click();
    await expect(draft(page).getByRole('heading', { level: 1 })).toHaveText('Bread and cake');
    await expect(draft(page).locator('b')).toHaveText('£3.40');
  });

  await test.step('a host that is full stops the release; it goes on later', async () => {
    await page.locator('body').press('m');
    await page.getByRole('button', { name: 'Clear it ourselves' }).click();
    await page.getByRole('button', { name: 'Publish 1 change' }).click();
    await request.post(`http://${edit}/.standin/faults`, { data: [{ status: 507, method: 'PUT' }] });
    await page.getByRole('button', { name: 'Publish now' }).click();
    await expect(page.getByText('The host has no room left for index.html.')).toBeVisible();
    await axe(page);
    await request.post(`http://${edit}/.standin/faults`, { data: [] });
    await page.getByRole('button', { name: 'Go on with the rest' }).click();
    await expect(page.getByText('live, and seen to be right')).toBeVisible({ timeout: 60_000 });
    const want = fares.replace('<h1>Bread', '<h1>Bread and cake').replace('£3.10', '£3.40');
    expect(readFileSync(join(folder, 'index.html'), 'utf8')).toBe(want);
  });

  await test.step('signed off is signed off; undone is undone', async () => {
    await page.getByRole('button', { name: 'Undo this release' }).click();
    await page.getByRole('button', { name: 'Take it back' }).click();
    await expect(page.getByText('back, and seen to be right')).toBeVisible({ timeout: 60_000 });
    writeFileSync(join(folder, 'index.html'), readFileSync(join(folder, 'index.html'), 'utf8').replace('Bread and cake', 'Bread'));
    expect(files(folder)).toEqual(before);
  });
});

test('a link in a previewed page leads nowhere, and its scripts reach nothing', async ({ page }) => {
  await signIn(page);
  await page.goto('/requests/201');
  await page.getByRole('button', { name: 'Open on the bench' }).first().click();
  await point(page, 'Sailings');
  await expect(draft(page).getByRole('heading', { level: 1 })).toHaveText('Fares and passes');
  await thisPageOnly(page);
  await expect(page.getByLabel('Leads to')).toHaveValue('/timetable.html');
  const reach = await draft(page)
    .locator('html')
    .evaluate(async (port) => {
      const tried: Record<string, string> = { origin: self.origin };
      for (const [name, act] of Object.entries({
        cookies: () => document.cookie,
        storage: () => String(localStorage.length),
        parent: () => String(parent.document.title),
      })) {
        try {
          tried[name] = act();
        } catch (e) {
          tried[name] = (e as Error).name;
        }
      }
      try {
        const r = await fetch(`http://localhost:${port}/api/session`, { credentials: 'include' });
        tried.mendry = String(r.status);
      } catch (e) {
        tried.mendry = (e as Error).name;
      }
      return tried;
    }, ports);
  expect(reach).toEqual({ origin: 'null', cookies: 'SecurityError', storage: 'SecurityError', parent: 'SecurityError', mendry: 'TypeError' });
});

test('words typed while Mendry is away are kept when it is back', async ({ page, context }) => {
  await signIn(page);
  await page.goto('/requests/202');
  await page.goto('/requests/201');
  await page.getByRole('button', { name: 'Open on the bench' }).nth(1).click();
  await expect(page.getByRole('textbox', { name: 'Words', exact: true })).toHaveText('£3.45');
  await context.setOffline(true);
  await inBlock(page, 'all');
  await page.keyboard.type('£3.70');
  await expect(page.getByText('Not kept yet: Mendry cannot be reached.')).toBeVisible();
  await context.setOffline(false);
  await kept(page);
  await page.reload();
  await expect(draft(page).getByText('£3.70')).toBeVisible();
  await words(page, '£3.45');
  await expect(page.getByText('The thread is empty')).toBeVisible();
});
