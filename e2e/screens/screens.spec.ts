import type { Page } from '@playwright/test';
import { draft, expect, host, inBlock, kept, phone, pickPicture, point, proofLinks, signIn, soon, take, takePicture, test, words } from '../world';

const shot = (page: Page, name: string) => page.screenshot({ path: `../docs/screenshots/${name}.png` });

/** The address of a page of a request on the bench. */
async function bench(page: Page, number: number, address: string): Promise<string> {
  const r = await (await page.request.get(`/api/requests/${number}`)).json();
  const s = await (await page.request.get(`/api/sites/${r.row.site_id}`)).json();
  const id = s.pages.find((p: { address: string }) => p.address === address).id;
  return `/requests/${number}/bench/${id}?wish=${r.wishes[0]?.id ?? ''}`;
}

test('pictures of every main view', async ({ page, browser }) => {
  test.setTimeout(600_000);
  await page.goto('/');
  await expect(page.getByRole('button', { name: /Ines Oakley/ })).toBeVisible();
  await signIn(page);
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'The fortnight' })).toBeVisible();
  await shot(page, 'today');
  await page.keyboard.press('f');
  await page.keyboard.type('adlut single');
  await expect(page.getByRole('option', { name: /Larkspur Ferries \/islands\/heron\.html/ })).toBeVisible();
  await shot(page, 'find');
  await page.keyboard.press('Escape');
  for (const [name, at, sign] of [
    ['sites', '/sites', 'Larkspur Ferries'],
    ['site', '/sites/1', 'Requests'],
    ['pictures', '/sites/2/pictures', 'hall.jpg'],
    ['add-site', '/sites/add', 'Its host'],
    ['read-and-place', '/requests/201', 'Where on Larkspur Ferries?'],
  ] as const) {
    await page.goto(at);
    await expect(page.getByText(sign).first()).toBeVisible();
    if (name === 'sites') await expect(page.locator('img[src^="/api/pages/"]')).toHaveCount(8, { timeout: 180_000 });
    if (name === 'site') await expect(page.locator('img[src^="/api/pages/"]')).toHaveCount(23, { timeout: 180_000 });
    await page.waitForLoadState('networkidle');
    await shot(page, name);
  }
  await page.goto('/requests/201');
  await page.getByRole('combobox', { name: 'Where on Larkspur Ferries?' }).fill('extra boat');
  await expect(page.getByRole('option', { name: /timetable/ })).toBeVisible();
  await shot(page, 'read-and-place');

  await page.goto(await bench(page, 201, '/fares.html'));
  await point(page, '£3.45');
  await words(page, '£3.70');
  await draft(page).getByRole('img', { name: 'Boat at the quay' }).click();
  await pickPicture(page, /New boat/);
  await page.getByLabel('What it shows').fill('The new boat at the quay');
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
  await page.waitForLoadState('networkidle');
  await shot(page, 'picture');
  await page.getByLabel('What it shows').fill('Boat at the quay');
  await takePicture(page);
  await expect(page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem')).toHaveCount(2);
  const picture = draft(page).getByRole('img', { name: 'Boat at the quay' });
  await soon(() => picture.evaluate((i) => (i as HTMLImageElement).naturalWidth)).toBeGreaterThan(1000);
  await point(page, '£6.90');
  await words(page, '£7.40');
  await kept(page);
  await expect(page.getByRole('region', { name: 'The same words elsewhere' })).toBeVisible();
  await take(page, 'Bicycles travel free');
  await page.waitForLoadState('networkidle');
  await shot(page, 'bench');
  await page.getByRole('button', { name: /Make proof/ }).click();
  await expect(page.getByRole('region', { name: 'Checks' })).toBeVisible();
  await expect(page.frameLocator('iframe[title="The page after"]').getByText('£7.40')).toBeVisible();
  await page.waitForLoadState('networkidle');
  await shot(page, 'proof');

  const client = await phone(browser);
  await client.goto([...(await proofLinks(page))].at(-1)!); // the oldest letter: the tearoom’s, not answered yet
  await client.getByRole('button', { name: 'Right' }).first().click();
  await expect(client.getByText('See the pages as they will look')).toBeVisible();
  await client.screenshot({ path: '../docs/screenshots/client.png', fullPage: true });

  await page.goto('/requests/206/release');
  await expect(page.getByText('live, and seen to be right')).toBeVisible();
  await shot(page, 'release');
  await page.goto('/requests/216/release');
  await page.getByRole('button', { name: /Make the list/ }).click();
  await page.getByRole('button', { name: 'Make the list', exact: true }).click();
  const own = await page.context().newPage(); // the price with a mistake, and somebody else's edit
  await own.goto(`${host(7)}/edit?file=repairs/index.html`);
  const text = own.getByLabel('What the page is made of');
  await text.fill((await text.inputValue()).replace('£64', '£27').replace('twenty', 'thirty').replace('31 December 2026', '30 June 2027'));
  await own.getByRole('button', { name: 'Save' }).click();
  await expect(own.getByRole('status')).toBeVisible();
  await own.close();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByText('It is right as it stands')).toBeVisible();
  await page.evaluate(() => scrollTo(0, 0));
  await shot(page, 'by-hand');
  await page.goto('/record?request=206');
  await expect(page.getByText('The record is whole')).toBeVisible();
  await shot(page, 'record');
  await page.goto('/');
  await page.getByText('Voices: one out, one in').first().click();
  await page.getByRole('link', { name: /Bench/ }).first().click();
  await page.getByRole('button', { name: /^\d+ parts/ }).click();
  const parts = page.getByRole('group', { name: 'Parts of the page' });
  await parts.getByLabel('Narrow the list of parts').fill('voices under');
  await parts.getByRole('button', { name: /voices under/ }).first().click();
  await page.getByRole('button', { name: 'Good soup, honest grades, clean…', exact: false }).first().click();
  await expect(draft(page).getByText('Good soup, honest grades')).toBeAttached();
  await page.waitForTimeout(800); // the page settles where it was scrolled to
  await shot(page, 'set');
  await page.goto(await bench(page, 202, '/courses/'));
  await point(page, 'The first rope');
  await page.getByRole('button', { name: 'Section below' }).click();
  await expect(page.getByRole('region', { name: 'A new section' }).getByRole('status')).toHaveText([''], { timeout: 90_000 });
  await page.waitForLoadState('networkidle');
  await shot(page, 'new-section');
  await page.getByRole('button', { name: 'Leave it' }).click();
  await page.goto(await bench(page, 202, '/house/'));
  await draft(page).getByRole('heading', { name: 'When the house is full' }).click();
  await page.getByRole('button', { name: /the section “When the house is full”/ }).first().click();
  await page.getByRole('button', { name: 'Look', exact: true }).click();
  await expect(page.getByRole('group', { name: 'Background' })).toBeVisible();
  await shot(page, 'look');
  await page.goto(await bench(page, 206, '/talks.html'));
  await expect(draft(page).getByText('the Pole Star')).toBeVisible();
  await page.getByRole('button', { name: 'Earlier versions' }).click();
  await expect(page.getByText('1 part differs')).toBeVisible();
  await shot(page, 'versions');
  await page.goto(await bench(page, 211, '/visit/'));
  await draft(page).locator('#foot').getByRole('link', { name: '03 555 0177' }).click();
  const which = page.getByRole('region', { name: 'On which pages' });
  await which.getByRole('button', { name: /^all \d+ pages/ }).click();
  await inBlock(page, 'all');
  await page.keyboard.type('03 555 0188');
  await kept(page);
  await page.getByRole('region', { name: 'The margin' }).getByText('Where it differs, and how').click();
  await expect(page.getByText('Groups: ask for Ada before noon')).toBeVisible();
  await page.waitForLoadState('networkidle');
  await shot(page, 'shared');
});
