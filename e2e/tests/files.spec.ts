import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { axe, dir, draft, expect, files, kept, newRequest, openBench, phone, proofLink, proofLinks, publish, publishSigned, read, sendProof, sign, signIn, tabTo, takeBack, test } from '../world';

const thread = (page: Page) => page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');

/** A PDF of so many bytes, more or less. */
const pdf = (words: string, size: number) => Buffer.from(`%PDF-1.4\n${`%${words}\n`.repeat(Math.ceil(size / (words.length + 2)))}trailer<<>>\n%%EOF\n`);
const onHost = () => readFileSync(`${dir}/sites/osprey/media/prices.pdf`);

test('a price list is replaced under the same address, shown to the client, published, and put back', async ({ page, browser }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const old = onHost();
  const list = pdf('prices from January', 96_000);

  // The letter comes with the file; what is no such file is refused in words, and the letter stays.
  await page.goto('/requests/new');
  await page.getByLabel('What the client wrote or said').fill('Here is the price list from January.');
  await page.getByRole('combobox', { name: 'Site', exact: true }).selectOption({ label: 'Osprey Hall Climbing' });
  await page.getByLabel('Pictures and files that came with it').setInputFiles([
    { name: 'List.exe', mimeType: 'application/octet-stream', buffer: Buffer.from('MZ'.padEnd(400, '\0')) },
    { name: 'Prices January.pdf', mimeType: 'application/pdf', buffer: list },
  ]);
  await page.getByRole('button', { name: 'Keep and read it' }).click();
  await expect(page.getByRole('alert')).toContainText('neither a picture that can be shown on a page nor a file that visitors can download');
  await page.getByRole('listitem').filter({ hasText: 'List.exe' }).getByRole('button', { name: 'take out' }).click();
  await page.getByRole('button', { name: 'Keep and read it' }).click();
  await page.waitForURL(/requests\/\d+$/);
  const number = Number(page.url().split('/').at(-1));
  await expect(page.getByRole('link', { name: /Prices January\.pdf/ })).toBeVisible();
  await axe(page);

  await openBench(page, number, '/prices/');
  await draft(page).getByRole('link', { name: 'All prices to print' }).click();
  const file = page.getByRole('region', { name: 'The file prices.pdf' });
  await expect(file).toContainText('PDF, 2 kB');
  await expect(file).toContainText('one link leads to it: /prices/');
  await file.getByRole('button', { name: 'Replace it, same address' }).click();
  await file.getByRole('button', { name: /Prices January\.pdf/ }).click();
  await expect(thread(page)).toHaveCount(1);
  await expect(draft(page).getByRole('link', { name: 'All prices to print (PDF, 96 kB)' })).toBeVisible();
  await axe(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);

  // The client fetches both.
  const links = await proofLinks(page);
  await page.getByRole('button', { name: /Make proof/ }).click();
  await expect(page.getByText('Links to files say what they lead to')).toBeVisible();
  await sendProof(page);
  const link = await proofLink(page, links);
  const client = await phone(browser);
  await client.goto(link);
  const card = client.getByRole('article').filter({ hasText: 'All prices to print' });
  for (const [name, want] of [
    ['PDF, 2 kB', old],
    ['PDF, 96 kB', list],
  ] as const) {
    const [got] = await Promise.all([client.waitForEvent('download'), card.getByRole('link', { name }).click()]);
    expect(readFileSync(await got.path()).equals(want), name).toBe(true);
  }
  await axe(client);
  await client.context().close();
  await sign(link, browser, 'Jory Penhale');
  await publishSigned(page);
  expect(onHost().equals(list)).toBe(true);
  expect(Object.keys(files(`${dir}/sites/osprey`))).toEqual(Object.keys(before));
  expect(read('osprey', 'prices/index.html')).toContain('<a class="paper" href="/media/prices.pdf">All prices to print (PDF, 96 kB)</a>');
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('a new file gets a link below, by keyboard, and goes with it', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'Please add the rules of the hall as a file.');
  await openBench(page, number, '/prices/');
  await draft(page).getByText('Tickets are good for the whole day').click();
  await tabTo(page, page.getByRole('button', { name: 'File below' }));
  await page.keyboard.press('Enter');
  await page.keyboard.type('The rules of the hall');
  await page.getByLabel('From this machine').setInputFiles({ name: 'Café Règles (fin).PDF', mimeType: 'application/pdf', buffer: pdf('rules', 4000) });
  await expect(thread(page)).toHaveCount(1);
  await expect(draft(page).getByRole('link', { name: 'The rules of the hall (PDF, 4 kB)' })).toBeVisible();
  await kept(page);
  await publish(page);
  const now = files(`${dir}/sites/osprey`);
  expect(Object.keys(now).filter((f) => !before[f])).toEqual(['media/cafe-regles-fin.pdf']);
  expect(read('osprey', 'prices/index.html')).toContain('<p><a href="/media/cafe-regles-fin.pdf" class="paper">The rules of the hall (PDF, 4 kB)</a></p>');
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});
