import type { Page } from '@playwright/test';
import { axe, expect, host, read, signIn, site, soon, test } from '../world';

// Quillon's pages are edited in a program of its own; Mendry only reads them.
const clocks = 7;

/** Edits the page of repairs where the workshop edits it. */
async function edit(page: Page, old: string, now: string) {
  const own = await page.context().newPage();
  await own.goto(`${host(clocks)}/edit?file=repairs/index.html`);
  const text = own.getByLabel('What the page is made of');
  const was = await text.inputValue();
  expect(was).toContain(old);
  await text.fill(was.replace(old, now));
  await own.getByRole('button', { name: 'Save' }).click();
  await expect(own.getByRole('status')).toContainText('Saved');
  await own.close();
}

/** Tells Mendry by key that the item in hand is put in, and waits until it has looked. */
async function look(page: Page) {
  const go = page.getByRole('button', { name: /I have put it in/ });
  await expect(go).toBeEnabled();
  const told = page.waitForResponse(/\/marks$/);
  await page.keyboard.press('Enter');
  expect((await told).ok()).toBe(true);
  await expect(page.getByRole('button', { name: 'Looking…' })).toHaveCount(0);
}

test('a release by hand, by keyboard, with a mistake that the live check finds', async ({ page, context }, info) => {
  test.setTimeout(120_000);
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await signIn(page);
  await page.goto('/');
  const before = read('quillon', 'repairs/index.html');
  await page.getByRole('link', { name: /Mantel clocks cost more/ }).first().focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Mantel clocks cost more to clean' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Make the list for 4 changes' })).toBeEnabled();
  await page.keyboard.press('p');
  await expect(page.getByRole('dialog')).toContainText('Nothing goes live until you put it in');
  await page.getByRole('button', { name: 'Make the list', exact: true }).focus();
  await page.keyboard.press('Enter');

  const list = page.getByRole('region', { name: 'Release by hand' });
  const items = list.getByRole('listitem');
  await expect(items).toHaveCount(4);
  await expect(items.nth(1)).toContainText('in the table under “What it costs”, second row, third column');
  await axe(page);

  // The picture is fetched, and put beside the others.
  const fetched = page.waitForEvent('download');
  await list.getByRole('link', { name: 'Fetch the picture' }).focus();
  await page.keyboard.press('Enter');
  const picture = await fetched;
  expect(picture.suggestedFilename()).toBe('mantel-after.jpg');
  const file = info.outputPath('mantel-after.jpg');
  await picture.saveAs(file);
  const own = await context.newPage();
  await own.goto(host(clocks));
  await own.getByLabel('Picture').setInputFiles(file);
  await own.getByRole('button', { name: 'Put it there' }).click();
  await own.close();
  await page.bringToFront();
  await list.getByRole('button', { name: /I have put it in/ }).focus();
  await page.keyboard.press('Enter');
  await expect(items.nth(0)).toContainText('seen there');

  // The price, with a mistake.
  await expect(items.nth(1)).toHaveAttribute('aria-current', 'step');
  await page.keyboard.press('c');
  await soon(() => page.evaluate(() => navigator.clipboard.readText())).toBe('£72');
  await look(page);
  await expect(items.nth(1)).toContainText('not there yet');
  await edit(page, '£64', '£27');
  await look(page);
  await expect(items.nth(1)).toContainText('not what was cleared');
  await expect(items.nth(1)).toContainText('£27');
  await expect(page.getByRole('region', { name: 'What Mendry saw' })).toContainText('not what was cleared');
  await axe(page);

  // Left, and come back to.
  await page.goto('/');
  await expect(page.getByText('a list waits to be put in')).toBeVisible();
  await page.getByRole('link', { name: /Mantel clocks cost more/ }).first().click();
  await expect(items.nth(1)).toContainText('not what was cleared');
  await edit(page, '£27', '£72');
  await look(page);
  await expect(items.nth(1)).toContainText('seen there');

  // Somebody else's edit is no item's, and is left to them.
  await edit(page, 'Prices hold until 31 December 2026.', 'Prices hold until 30 June 2027.');
  await edit(page, 'within twenty miles', 'within thirty miles');
  await look(page);
  await expect(items.nth(2)).toContainText('seen there');
  const other = page.getByRole('region', { name: 'Something else is different' });
  await expect(other).toContainText('thirty');
  await other.getByRole('button', { name: 'Theirs, leave it' }).focus();
  await page.keyboard.press('Enter');
  await expect(other).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Left to them' })).toContainText('thirty');

  await edit(page, '/pictures/mantel-before.jpg" alt="A sooty mantel clock"', '/pictures/mantel-after.jpg" alt="The same mantel clock, cleaned"');
  await look(page);
  await expect(page.getByText('live, and seen to be right')).toBeVisible({ timeout: 60_000 });
  expect(await (await page.request.get(`${site(clocks)}/repairs`)).text()).toContain('£72');

  // The way back is the same list, turned round.
  await page.getByRole('button', { name: 'Undo this release' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Take it back', exact: true }).focus();
  await page.keyboard.press('Enter');
  const back = page.getByRole('region', { name: 'Put back by hand' });
  await expect(back.getByRole('listitem')).toHaveCount(4);
  await edit(page, '£72', '£64');
  await edit(page, 'Prices hold until 30 June 2027.', 'Prices hold until 31 December 2026.');
  await edit(page, '/pictures/mantel-after.jpg" alt="The same mantel clock, cleaned"', '/pictures/mantel-before.jpg" alt="A sooty mantel clock"');
  await look(page);
  await expect(back.getByRole('listitem').filter({ hasText: 'seen there' })).toHaveCount(3);
  // The picture may stay where it is: nothing shows it any more.
  await back.getByRole('button', { name: 'Leave it as it is' }).click();
  await expect(page.getByText('put back, being looked at').or(page.getByText('back, and seen to be right'))).toBeVisible();
  expect(read('quillon', 'repairs/index.html')).toBe(before.replace('within twenty miles', 'within thirty miles'));
});
