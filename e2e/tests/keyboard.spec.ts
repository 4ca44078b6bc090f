import { readFileSync } from 'node:fs';
import { axe, dir, draft, expect, field, files, kept, letter, newRequest, proofLink, proofLinks, sign, signIn, signInByForm, tabTo, test } from '../world';

const read = (file: string) => readFileSync(`${dir}/sites/larkspur/${file}`, 'utf8');

test('by keyboard alone: a letter taken in, a page found by the end of its address, a number in a table and the same number elsewhere, published', async ({
  page,
  browser,
}) => {
  await signInByForm(page);
  const before = files(`${dir}/sites/larkspur`);
  const was = { fares: read('fares.html'), home: read('index.html'), heron: read('islands/heron.html') };
  const keys = page.keyboard;
  await expect(page.getByRole('heading', { name: 'The fortnight' })).toBeVisible();

  await test.step('the letter', async () => {
    await letter(page, 'n');
    await expect(page.getByRole('heading', { name: 'New request' })).toBeVisible();
    await tabTo(page, page.getByLabel('What the client wrote or said'));
    await keys.type('From now on the adult single is £7.40, please change it wherever it stands.');
    await tabTo(page, page.getByRole('combobox', { name: 'Site', exact: true }));
    await keys.type('Larkspur');
    await tabTo(page, page.getByRole('button', { name: 'Keep and read it' }));
    await keys.press('Enter');
    await page.waitForURL(/requests\/\d+$/);
  });

  await test.step('the page, by the end of its address', async () => {
    await letter(page, 'f');
    await expect(page.getByRole('combobox', { name: 'Find words on any page' })).toBeFocused();
    await keys.type('fares.html');
    await expect(page.getByRole('option', { name: /Larkspur Ferries \/fares\.html the page “Fares and passes/ })).toBeVisible();
    await axe(page);
    await keys.press('Enter');
    await expect(draft(page).getByText('Single and return')).toBeVisible();
  });

  await test.step('the cell, by the list of parts', async () => {
    await letter(page, 'p');
    await expect(page.getByLabel('Narrow the list of parts')).toBeFocused();
    await keys.type('Adult, Single');
    await keys.press('ArrowDown');
    await keys.press('Enter');
    await expect(field(page)).toBeFocused();
    await keys.press('Control+a');
    await keys.type('£7.40');
    await kept(page);
    await expect(draft(page).getByRole('cell', { name: '£7.40' })).toBeVisible();
  });

  await test.step('the same number elsewhere; the old news stay', async () => {
    const same = page.getByRole('region', { name: 'The same words elsewhere' });
    await expect(same.getByRole('heading')).toHaveText('“£6.90” stands in 3 more places');
    await tabTo(page, same.getByLabel(/news\/2025-fares/));
    await keys.press('Space');
    await tabTo(page, same.getByRole('button', { name: 'Change 2 to “£7.40”' }));
    await keys.press('Enter');
    await expect(same.getByRole('heading')).toHaveText('“£6.90” stands in 1 more place');
    await tabTo(page, same.getByLabel('Why they stay'));
    await keys.type('Old news say what was so then');
    await keys.press('Enter');
    await expect(same.getByText('Left on purpose')).toBeVisible();
    await axe(page);
    await keys.press('Escape');
  });

  await test.step('looked at, sent, signed, published', async () => {
    await keys.press('Escape');
    await letter(page, 'm');
    await expect(page.getByRole('region', { name: 'Checks' })).toBeVisible();
    await axe(page);
    const links = await proofLinks(page);
    await tabTo(page, page.getByRole('button', { name: 'Send to client' }));
    await keys.press('Enter');
    await tabTo(page, page.getByRole('button', { name: 'Send the proof' }));
    await keys.press('Enter');
    await expect(page.getByText('Not opened yet.')).toBeVisible();
    await sign(await proofLink(page, links), browser, 'Maren Quayle');
    await page.reload();
    await tabTo(page, page.getByRole('link', { name: 'Publish 3 changes' }));
    await keys.press('Enter');
    await tabTo(page, page.getByRole('button', { name: 'Publish 3 changes' }));
    await keys.press('Enter');
    await expect(page.getByRole('button', { name: 'Publish now' })).toBeVisible();
    await tabTo(page, page.getByRole('button', { name: 'Publish now' }));
    await keys.press('Enter');
    await expect(page.getByText('live, and seen to be right')).toBeVisible({ timeout: 90_000 });
  });

  expect(read('fares.html')).toBe(was.fares.replace('£6.90', '£7.40'));
  expect(read('index.html')).toBe(was.home.replace('£6.90', '£7.40'));
  expect(read('islands/heron.html')).toBe(was.heron.replace('£6.90', '£7.40'));
  const now = files(`${dir}/sites/larkspur`);
  expect(Object.keys(now).filter((f) => now[f] !== before[f]).sort()).toEqual(['fares.html', 'index.html', 'islands/heron.html']);

  await test.step('and taken back', async () => {
    await tabTo(page, page.getByRole('button', { name: 'Undo this release' }));
    await keys.press('Enter');
    await tabTo(page, page.getByRole('button', { name: 'Take it back' }));
    await keys.press('Enter');
    await expect(page.getByText('back, and seen to be right')).toBeVisible({ timeout: 90_000 });
    expect(files(`${dir}/sites/larkspur`)).toEqual(before);
  });
});

// What the reader of docs/acts.md counts: a key, a chord or a text typed is one act.
test('a paragraph is changed and published in eleven acts, without the mouse', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Fenwick Lantern Theatre', 'Begin the first page with New, please.');
  await page.goto(`/requests/${number}`);
  await expect(page.getByRole('region', { name: 'The letter', exact: true })).toBeVisible();
  let acts = 0;
  const press = async (key: string) => {
    acts++;
    if (/^[a-z]$/.test(key)) await letter(page, key);
    else await page.keyboard.press(key);
  };
  const type = async (text: string) => {
    acts++;
    await page.keyboard.type(text);
  };
  await press('b');
  await expect(draft(page).locator('body')).toBeVisible();
  await press('p');
  await expect(page.getByLabel('Narrow the list of parts')).toBeFocused();
  const words: string = await draft(page).locator('p[data-mendry]').first().innerText();
  await type(words.slice(0, 12));
  await press('ArrowDown');
  await press('Enter');
  await expect(field(page)).toBeFocused();
  await type('New: ');
  await kept(page);
  await press('Control+Alt+KeyM');
  await expect(page.getByRole('region', { name: 'Checks' })).toBeVisible();
  await press('c');
  await expect(page.getByRole('button', { name: /^Publish \d+ changes?$/ })).toBeEnabled();
  await press('p');
  await expect(page.getByRole('button', { name: 'Publish now' })).toBeVisible();
  await press('Tab');
  await press('Enter');
  await expect(page.getByText('live, and seen to be right')).toBeVisible({ timeout: 90_000 });
  expect(acts).toBe(11);
});
