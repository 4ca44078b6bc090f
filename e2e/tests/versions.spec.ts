import type { Page } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { axe, dir, draft, expect, newRequest, openBench, publish, read, signIn, take, takeBack, test, words } from '../world';

const table = (page: Page) => page.getByRole('region', { name: 'Earlier versions' });
const versions = (page: Page) => table(page).getByRole('list', { name: 'Versions of the page' }).getByRole('listitem');
const row = (page: Page, says: string) => table(page).getByRole('row').filter({ hasText: says }).filter({ has: page.getByRole('button', { name: 'Bring back', exact: true }) });

test('a page goes back: one part, a section, and all of it to its starting state, which somebody else had changed since', async ({ page }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const file = `${dir}/sites/fenwick/company.html`;
  const start = read('fenwick', 'company.html');
  let number = await newRequest(page, 'Fenwick Lantern Theatre', 'No heading for the lamplighter, and it takes him sixteen minutes now.');
  await openBench(page, number, '/company.html');
  await take(page, 'The lamplighter');
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(draft(page).getByText('The lamplighter', { exact: true })).toHaveCount(0);
  await take(page, 'Bram Oswin lights');
  await words(page, 'Bram Oswin lights forty-one lanterns each evening. It takes him sixteen minutes.');
  await publish(page);
  const published = read('fenwick', 'company.html');
  writeFileSync(file, published.replace('sixteen minutes', 'twelve minutes')); // somebody else, on the host

  number = await newRequest(page, 'Fenwick Lantern Theatre', 'All as it was, please.');
  await openBench(page, number, '/company.html');
  await page.getByRole('button', { name: 'Take in the newer page' }).click();
  await expect(draft(page).getByText('twelve minutes')).toBeVisible();
  await page.getByRole('button', { name: 'Earlier versions' }).click();
  await expect(versions(page)).toHaveCount(3);
  await expect(versions(page).nth(0)).toContainText('changed elsewhere');
  await expect(versions(page).nth(0)).toContainText('live now');
  await expect(versions(page).nth(1)).toContainText(`published for request ${number - 1}, Ines Oakley`);
  await expect(versions(page).nth(2)).toContainText('the starting state');
  await axe(page);

  // One part, by keyboard, while the other stays gone; both stand side by side before.
  await versions(page).nth(2).getByRole('button').press('Enter');
  await expect(row(page, 'twelve')).toContainText('eighteen');
  await row(page, 'twelve').getByRole('button', { name: 'Bring back', exact: true }).press('Enter');
  await expect(row(page, 'twelve')).toHaveCount(0);
  await expect(table(page).getByRole('row').filter({ hasText: 'The lamplighter' }).first()).toBeVisible();
  await table(page).getByText('the page then').click();
  await expect(page.frameLocator('iframe[title="The page as it was then"]').getByText('The lamplighter', { exact: true })).toBeVisible();
  await axe(page);
  await page.keyboard.press('Escape');
  await expect(draft(page).getByText('eighteen minutes')).toBeVisible();
  await expect(draft(page).getByText('The lamplighter', { exact: true })).toHaveCount(0);

  // All of it.
  await page.keyboard.press('Escape'); // nothing is in hand
  await page.getByRole('button', { name: 'Earlier versions' }).click();
  await versions(page).nth(2).getByRole('button').click();
  await table(page).getByRole('button', { name: 'Bring the whole page back' }).click();
  await expect(draft(page).getByText('The lamplighter', { exact: true })).toBeVisible();
  await axe(page);
  await publish(page);
  expect(read('fenwick', 'company.html')).toBe(start);
  await takeBack(page);
  expect(read('fenwick', 'company.html')).toBe(published.replace('sixteen minutes', 'twelve minutes'));
});
