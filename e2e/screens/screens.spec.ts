import { expect, type Page, test } from '@playwright/test';
import { draft, host, kept, mailbox, phone, pickPicture, point, proofLinks, signIn, take, takePicture, words } from '../world';

const shot = (page: Page, name: string) => page.screenshot({ path: `../docs/screenshots/${name}.png` });

/** The address of a page of a request on the bench. */
async function bench(page: Page, number: number, address: string): Promise<string> {
  const r = await (await page.request.get(`/api/requests/${number}`)).json();
  const s = await (await page.request.get(`/api/sites/${r.row.site_id}`)).json();
  const id = s.pages.find((p: { address: string }) => p.address === address).id;
  return `/requests/${number}/bench/${id}?wish=${r.wishes[0]?.id ?? ''}`;
}

test('pictures of every main view', async ({ page, browser }) => {
  await page.goto('/');
  await expect(page.getByRole('button', { name: /Ines Oakley/ })).toBeVisible();
  await shot(page, 'sign-in');
  await signIn(page);
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
    ['new-request', '/requests/new', 'How it came'],
    ['read-and-place', '/requests/201', 'Where on Larkspur Ferries?'],
  ] as const) {
    await page.goto(at);
    await expect(page.getByText(sign).first()).toBeVisible();
    if (name === 'sites') await expect(page.locator('img[src^="/api/pages/"]')).toHaveCount(8, { timeout: 60_000 });
    if (name === 'site') await expect(page.locator('img[src^="/api/pages/"]')).toHaveCount(23, { timeout: 60_000 });
    await page.waitForLoadState('networkidle');
    await shot(page, name);
  }
  await page.goto('/requests/205');
  await page.getByRole('button', { name: /The same words on many pages/ }).click();
  await page.getByLabel('Words that stand there').fill('coach');
  await page.getByLabel('Become').fill('teacher');
  await page.getByRole('button', { name: 'Find them' }).click();
  await expect(page.getByRole('button', { name: /^Change all/ })).toBeVisible();
  await shot(page, 'many-pages');
  await page.goto('/requests/207');
  await expect(page.getByRole('region', { name: 'What the letter seems to ask for' })).toBeVisible();
  await page.waitForLoadState('networkidle');
  await shot(page, 'proposals');
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
  await expect.poll(() => picture.evaluate((i) => (i as HTMLImageElement).naturalWidth)).toBeGreaterThan(1000);
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
  await page.goto(mailbox);
  await shot(page, 'mailbox');
});
