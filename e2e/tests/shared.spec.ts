import type { Page } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { axe, dir, draft, expect, files, inBlock, keepNothing, kept, newRequest, openBench, phone, proofLink, proofLinks, publishSigned, read, sendProof, sign, signAndPublish, signIn, takeBack, test } from '../world';

const site = () => `${dir}/sites/marlow`;
const thread = (page: Page) => page.getByRole('list', { name: 'The thread of changes' });
const margin = (page: Page) => page.getByRole('region', { name: 'The margin' });
const pages = () => Object.keys(files(site())).filter((f) => f.endsWith('.html')).sort();
const all = () => Object.fromEntries(pages().map((f) => [f, read('marlow', f)]));

test('the phone in a footer is changed on all pages as one change, shown on one card, and taken back alone', async ({ page, browser }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const before = all();
  const number = await newRequest(page, 'Marlow Kite Museum', 'From Monday our telephone number is 03 555 0188. It is at the foot of every page.');
  await openBench(page, number, '/visit/');

  // It is asked before anything can be changed.
  await draft(page).locator('#foot').getByRole('link', { name: '03 555 0177' }).click();
  const which = page.getByRole('region', { name: 'On which pages' });
  await expect(which).toContainText('It stands in “Footer”, which is on 39 pages, and differs on 1.');
  await expect(margin(page).getByRole('textbox')).toHaveCount(0);
  await which.getByText('Where it differs, and how').click();
  await expect(which.getByRole('listitem')).toContainText('/visit/groups.html “Groups: ask for Ada before noon” besides');
  await axe(page);
  await which.getByRole('button', { name: 'all 39 pages' }).press('Enter');
  await expect(page.getByRole('note', { name: 'On which pages' })).toContainText('Changes on all 39 pages that have “Footer”; it differs on 1.');
  await inBlock(page, 'all');
  await page.keyboard.type('03 555 0188', { delay: 20 });
  await kept(page);
  await expect(thread(page).getByRole('listitem')).toHaveCount(1);
  await expect(margin(page).getByLabel('Leads to')).toHaveValue('tel:+6435550188');
  expect(all()).toEqual(before);

  // One page is left, and taken in, since the same thing stands there; another one is left.
  await margin(page).getByRole('button', { name: /^on 39 pages/ }).click();
  const list = margin(page).getByRole('list', { name: 'Pages' });
  await expect(list.getByRole('listitem')).toHaveCount(40);
  await expect(list.getByRole('listitem').filter({ hasText: '/visit/groups.html' })).toContainText('left: “Groups: ask for Ada before noon” besides');
  await axe(page);
  await list.getByRole('button', { name: 'Change it there too: /visit/groups.html' }).press('Enter');
  await expect(margin(page).getByRole('button', { name: 'on 40 pages', exact: true })).toBeVisible();
  await list.getByRole('button', { name: 'Leave it: /friends.html' }).press('Enter');
  await expect(margin(page).getByRole('button', { name: 'on 39 pages, 1 left as it is' })).toBeVisible();
  await expect(list.getByRole('listitem').filter({ hasText: '/friends.html' })).toContainText('Left, as Ines Oakley said.');

  // Another page shows it in its draft, and says which change that is.
  await openBench(page, number, '/kites/gull.html');
  await expect(draft(page).locator('#foot')).toContainText('03 555 0188');
  await openBench(page, number, '/friends.html');
  await expect(draft(page).locator('#foot')).toContainText('03 555 0177');

  // The client sees one card.
  const links = await proofLinks(page);
  await page.getByRole('button', { name: /Make proof/ }).click();
  const card = page.getByRole('region', { name: 'What changes' }).getByRole('listitem').first();
  await expect(card.getByRole('button', { name: 'on 39 pages, 1 left as it is' })).toBeVisible();
  await expect(page.getByRole('group', { name: 'Pages' })).toHaveCount(0); // one pair of frames, not forty
  await axe(page);
  await sendProof(page);
  const link = await proofLink(page, links);
  const client = await phone(browser);
  await keepNothing(client);
  await client.goto(link);
  await expect(client.getByRole('article')).toHaveCount(1);
  await expect(client.getByRole('article')).toContainText('on 39 pages, as on Visit');
  await axe(client);
  await client.context().close();
  await sign(link, browser, 'Peta Rowling');
  await publishSigned(page);
  const changed = (f: string) =>
    f === 'friends.html' ? before[f]! : before[f]!.replace(/(id="foot"[^]*)tel:\+6435550177">03 555 0177/, '$1tel:+6435550188">03 555 0188');
  expect(all()).toEqual(Object.fromEntries(pages().map((f) => [f, changed(f)])));

  // Taken back alone, as one change, on each page where it is live, also on one that somebody else changed since.
  const gull = `${site()}/kites/gull.html`;
  writeFileSync(gull, read('marlow', 'kites/gull.html').replace('Gulls follow it.', 'Gulls follow it, and children.'));
  const takeIn = async () => {
    await openBench(page, number, '/kites/gull.html');
    await page.getByRole('button', { name: 'Take in the newer page' }).click();
    await expect(page.getByRole('button', { name: 'Take in the newer page' })).toHaveCount(0);
  };
  await takeIn();
  await openBench(page, number, '/visit/');
  await thread(page).getByRole('button', { name: /03 555 0177/ }).click();
  await page.getByRole('button', { name: 'Take this change back' }).click();
  await kept(page);
  await expect(thread(page).getByRole('button', { name: /on 39 pages/ }).nth(1)).toBeVisible();
  await signAndPublish(page, browser, 'Peta Rowling');
  expect(all()).toEqual({ ...before, 'kites/gull.html': before['kites/gull.html']!.replace('Gulls follow it.', 'Gulls follow it, and children.') });
  writeFileSync(gull, before['kites/gull.html']!);
  await takeIn();
});

test('an entry of the menu goes below another one on all pages, is renamed, and each page keeps its mark', async ({ page, browser }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const before = all();
  const number = await newRequest(page, 'Marlow Kite Museum', 'Contact belongs under Visit, and is called Find us.');
  await openBench(page, number, '/news/');
  await draft(page).locator('#menu').getByRole('link', { name: 'Contact' }).click();
  await page.getByRole('region', { name: 'On which pages' }).getByRole('button', { name: /^all \d+ pages/ }).click();
  await inBlock(page, 'all');
  await page.keyboard.type('Find us');
  await kept(page);
  await page.getByRole('button', { name: /^the item/ }).click();
  await page.getByRole('button', { name: 'Move to…' }).click();
  await axe(page);
  await page.getByRole('menuitem', { name: 'under “Visit”' }).click();
  await expect(draft(page).locator('#menu > li')).toHaveCount(4);
  await expect(draft(page).locator('#menu > li').first().locator('ul a').last()).toHaveText('Find us');
  await expect(thread(page).getByRole('listitem')).toHaveCount(2);
  expect(all()).toEqual(before);

  await openBench(page, number, '/contact.html');
  await expect(draft(page).locator('#menu li li a.current')).toHaveText('Find us');
  await signAndPublish(page, browser, 'Peta Rowling');
  const entry = (f: string) => before[f]!.match(/\n<li><a [^>]*href="\/contact\.html"[^>]*>Contact<\/a><\/li>/)![0];
  const moved = (f: string) =>
    before[f]!.replace(entry(f), '').replace(/(Groups<\/a><\/li>)/, `$1${entry(f).trim().replace('Contact', 'Find us')}`);
  expect(all()).toEqual(Object.fromEntries(pages().map((f) => [f, moved(f)])));
  expect(read('marlow', 'contact.html')).toContain('<li><a class="current" href="/contact.html" aria-current="page">Find us</a></li></ul>');
  await takeBack(page);
  expect(all()).toEqual(before);
});
