import type { Page } from '@playwright/test';
import { axe, draft, expect, inBlock, kept, newRequest, openBench, phone, proofLink, proofLinks, sendProof, signIn, soon, test, words } from '../world';

/** Opens the pictures of a proof and waits until they are taken. */
async function pictures(page: Page) {
  await page.getByRole('button', { name: /Make proof/ }).click();
  await page.getByRole('radio', { name: /pictures/ }).locator('..').click();
  await expect(page.getByRole('img', { name: /^The page after/ })).toBeVisible({ timeout: 60_000 });
}

test('a change is boxed in pictures, the client sees them, and the record knows them', async ({ page, browser }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Please say that the soup is there until May.');
  await openBench(page, number, '/on-board.html');
  await draft(page).getByText('Soup from October to April').click();
  await words(page, 'Soup from October to May, £3.20');
  await pictures(page);
  const after = page.getByRole('region', { name: 'After, as a picture' });
  await expect(after.getByTitle('changed', { exact: true })).toHaveCount(1);
  await expect(page.getByText('1 place where something was changed')).toBeVisible();
  await expect(page.getByText('In pictures at 390, 768 and 1280 nothing looks different but what was changed.')).toBeVisible();
  for (const width of ['390', '1280']) {
    await page.getByRole('radio', { name: width, exact: true }).locator('..').click();
    const img = page.getByRole('img', { name: `The page after, ${width} points wide` });
    await soon(() => img.evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(Number(width));
  }
  await axe(page);

  const links = await proofLinks(page);
  await sendProof(page);
  const client = await phone(browser);
  await client.goto(await proofLink(page, links));
  await client.getByText('as pictures, with what changes marked').click();
  await soon(() => client.getByRole('img', { name: 'The page as it will be' }).evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(390);
  await expect(client.getByTitle('changed', { exact: true })).toHaveCount(1);
  await axe(client);
  await client.context().close();
  const record = await (await page.request.get(`/api/record/export?request=${number}`)).text();
  expect(record).toMatch(/\/on-board\.html seen at 390 points wide: before sha256 [0-9a-f]{64}, after sha256 [0-9a-f]{64}/);
});

test('what a new paragraph does to another part is found and named', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'One more line on lost things, please.');
  await openBench(page, number, '/lost.html');
  await draft(page).getByText('Two pairs of glasses.').click();
  await inBlock(page, 'end');
  await page.keyboard.press('Enter');
  await page.keyboard.type('A blue scarf.');
  await kept(page);
  await pictures(page);
  await expect(page.getByText(/What was not changed looks different: .*violin.*Look at the pictures\./)).toBeVisible();
  await expect(page.getByRole('region', { name: 'After, as a picture' }).getByText(/^not changed/).first()).toBeVisible();
  await axe(page);
});
