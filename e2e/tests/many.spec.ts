import { readFileSync } from 'node:fs';
import { axe, dir, draft, expect, files, kept, newRequest, openBench, publish, signIn, takeBack, test, words } from '../world';

const root = `${dir}/sites/pennyfield`;

test('words replaced all over a site, the links of a page tried, a slip mended, taken back', async ({ page }) => {
  await signIn(page);
  const before = files(root);
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'Lock Cottage is called Weir Cottage now, everywhere.');
  await page.goto(`/requests/${number}`);
  const all = page.getByRole('region', { name: 'The same words on many pages' });
  await all.getByRole('button', { name: /The same words on many pages/ }).click();
  await all.getByLabel('Words that stand there').fill('lock cottage');
  await all.getByLabel('Become').fill('Weir Cottage');
  await all.getByRole('button', { name: 'Find them' }).click();
  const pages = Object.keys(before).filter((f) => f.endsWith('.html') && readFileSync(`${root}/${f}`, 'utf8').includes('Lock Cottage'));
  expect(pages.length).toBeGreaterThan(9);
  await expect(all.getByRole('button', { name: `Change all ${pages.length} to “Weir Cottage”` })).toBeVisible();
  await axe(page);
  await all.getByRole('button', { name: `Change all ${pages.length} to “Weir Cottage”` }).click();
  await expect(all.getByText(`Changed in ${pages.length} places: kept, not live.`)).toBeVisible();
  expect(files(root)).toEqual(before);

  await openBench(page, number, '/contact.html');
  await page.getByRole('button', { name: 'Links of this page' }).click();
  await expect(page.getByRole('button', { name: /fine Alder/ })).toBeVisible();
  await axe(page);
  await page.getByRole('button', { name: /fine Alder/ }).click();
  await expect(page.getByLabel('Leads to')).toHaveValue('/boats/alder.html');
  await draft(page).getByText('Call 01632 960171, every day').click();
  await words(page, 'Call 01632 960171, every day but Monday. We recieve letters within two days.');
  await page.getByRole('button', { name: 'Earlier wordings' }).click();
  await expect(page.getByText('live now', { exact: false }).first()).toBeVisible();
  await axe(page);
  await page.getByRole('button', { name: /Make proof/ }).click();
  const checks = page.getByRole('region', { name: 'Checks' });
  await expect(checks.getByText('“recieve” is not in the dictionary. Is “receive” or “relieve” meant?')).toBeVisible();
  await axe(page);
  await checks.getByRole('button', { name: 'Mend it' }).first().click();
  await expect(checks.getByText('is not in the dictionary')).toHaveCount(0);
  await page.goBack(); // one step: the frames of pages add none of their own
  await expect(page).toHaveURL(/\/bench\//);
  await kept(page);
  await publish(page);
  for (const f of pages) {
    const was = Buffer.from(readFileSync(`${root}/${f}`)).toString();
    expect(was).toContain('Weir Cottage');
  }
  const contact = readFileSync(`${root}/contact.html`, 'utf8');
  expect(contact).toContain('We receive letters within two days.');
  const now = files(root);
  expect(Object.keys(now).filter((f) => now[f] !== before[f]).sort()).toEqual(pages.sort());
  await takeBack(page);
  expect(files(root)).toEqual(before);
});

test('the pages of a site as a tree, and words that are right there', async ({ page }) => {
  await signIn(page, 'ruth');
  await page.goto('/');
  await page.getByRole('link', { name: 'Sites', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Sites', level: 1 })).toBeVisible(); // Today has links of that name, too
  await page.getByRole('link', { name: /Larkspur Ferries/ }).first().click();
  const rows = page.getByRole('listitem').filter({ has: page.locator('a.mono') });
  await expect(rows.first()).toContainText('/');
  const order = await page.locator('a.mono').allInnerTexts();
  expect(order.indexOf('/islands/heron.html')).toBe(order.indexOf('/islands/') + 1);
  expect(order.slice(0, 3)).toEqual(['/', '/timetable.html', '/fares.html']); // as the menu has them
  await page.getByLabel('A word that is right here').fill('Skerryman');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Forget Skerryman' })).toBeVisible();
  await axe(page);
  await page.getByRole('button', { name: 'Forget Skerryman' }).click();
  await expect(page.getByRole('button', { name: 'Forget Skerryman' })).toHaveCount(0);
  await page.getByLabel('A word that is right here').fill('two words');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText('“two words” is not one word.')).toBeVisible();
});
