import type { Page } from '@playwright/test';
import { axe, blockText, dir, draft, expect, files, inBlock, kept, measured, newRequest, openBench, publish, read, signAndPublish, signIn, soon, take, takeBack, takePicture, test } from '../world';

const margin = (page: Page) => page.getByRole('region', { name: 'The margin' });
const table = (page: Page) => page.getByRole('region', { name: 'A new section' });

/** Writes in the place of a prompt on the page, and waits until it is kept. */
async function write(page: Page, prompt: string, words: string) {
  await take(page, prompt);
  await inBlock(page, 'all');
  await page.keyboard.insertText(words);
  await kept(page);
  await expect(draft(page).getByText(words).first()).toBeVisible();
}

/** Takes what the part in hand stands in in hand. */
async function around(page: Page, name: RegExp) {
  await margin(page).getByRole('button', { name }).first().click();
}

/** What differs between two looks at a host's folder. */
const differing = (a: Record<string, string>, b: Record<string, string>) =>
  Object.keys({ ...a, ...b }).filter((f) => a[f] !== b[f]);

test('two columns borrowed from another page above a full-width text; copied and filled', async ({ page, browser }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const before = files(`${dir}/sites/saltgate`);
  const was = read('saltgate', 'history.html');
  const number = await newRequest(page, 'Saltgate Observatory', 'A word about the old dome on the history page, please, with a picture of the Moon beside it.');
  await openBench(page, number, '/history.html');
  await draft(page).locator('h1').first().click();
  await page.getByRole('button', { name: 'Section below' }).click();
  await expect(table(page)).toBeVisible();
  await expect(table(page).getByRole('button', { name: /The brass one/ })).toBeVisible({ timeout: 60_000 }); // the site is looked through
  await axe(page);
  await page.keyboard.press('Escape'); // left, and taken up again
  await expect(table(page)).toHaveCount(0);
  await page.getByRole('button', { name: 'Section below' }).click();
  await table(page).getByRole('button', { name: /A picture beside words/ }).click();
  const card = table(page).getByRole('button', { name: /The brass one/ });
  await expect(card.locator('img')).toBeVisible({ timeout: 60_000 }); // it is drawn
  await card.click();
  await expect(draft(page).getByText('New heading')).toBeVisible();

  await write(page, 'New heading', 'The old dome');
  await write(page, 'New words', 'Copper, and older than the road.');
  await draft(page).locator('img[src^="data:"]').click();
  await page.getByRole('button', { name: 'One of this site' }).click();
  await page.getByLabel('Search the site’s pictures').fill('dome');
  await page.getByRole('button', { name: 'dome.jpg' }).click();
  await page.getByLabel('What it shows').fill('The dome at dusk');
  await measured(page);
  await takePicture(page);

  // The full-width text below both columns: at the end of what holds the row.
  await take(page, 'The old dome');
  await around(page, /the section “The old dome”/);
  await around(page, /the (section|item) “The old dome”/);
  await page.getByRole('button', { name: 'Words at its end' }).click();
  await soon(() => blockText(page)).toBe('New words'); // in hand, to be typed over
  await page.keyboard.insertText('It was moved here in one piece, on a raft.');
  await kept(page);
  await expect(draft(page).getByText('It was moved here in one piece, on a raft.')).toBeVisible();
  const places = await draft(page).locator('body').evaluate(() => {
    const at = (s: string) => [...document.querySelectorAll('h2, p')].find((e) => e.textContent === s)!.getBoundingClientRect();
    const picture = [...document.images].find((i) => i.alt === 'The dome at dusk')!.getBoundingClientRect();
    return { words: at('Copper, and older than the road.').right, left: picture.left, bottom: picture.bottom, below: at('It was moved here in one piece, on a raft.').top };
  });
  expect(places.words).toBeLessThanOrEqual(places.left);
  expect(places.below).toBeGreaterThanOrEqual(places.bottom);

  // A copy of the whole section is filled.
  await take(page, 'It was moved here');
  await around(page, /the (section|item) “The old dome”/);
  await page.getByRole('button', { name: 'Copy below' }).click();
  await expect(draft(page).getByText('The old dome')).toHaveCount(2);
  await draft(page).getByText('The old dome').last().click();
  await inBlock(page, 'all');
  await page.keyboard.insertText('The new dome');
  await kept(page);

  await signAndPublish(page, browser, 'Ilse Varnham');
  const live = read('saltgate', 'history.html');
  expect(live).toMatch(/<div class="cols"><div [^>]*class="col"[^>]*><h2>The old dome<\/h2><p>Copper, and older than the road\.<\/p><\/div><div [^>]*class="col"[^>]*><img src="files\/dome[^"]*\.jpg" alt="The dome at dusk"[^>]*><\/div><\/div><p>It was moved here in one piece, on a raft\.<\/p><\/div>/);
  expect(live).toContain('<h2>The new dome</h2>');
  expect(differing(before, files(`${dir}/sites/saltgate`))).toEqual(['history.html', 'files/dome-2.jpg']);
  await takeBack(page);
  expect(read('saltgate', 'history.html')).toBe(was);
});

test('a third column beside two, wide and narrow; at 390 they stand below each other; and out again', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Saltgate Observatory', 'A word about the old dome on the history page, please, and what else there is to see.');
  await openBench(page, number, '/history.html');
  await draft(page).locator('h1').first().click();
  await page.getByRole('button', { name: 'Section below' }).click();
  await table(page).getByRole('button', { name: /A picture beside words/ }).click();
  await table(page).getByRole('button', { name: /The brass one/ }).click({ timeout: 60_000 }); // the site is looked through
  await expect(draft(page).getByText('New heading')).toBeVisible();
  await write(page, 'New heading', 'The old dome');
  await take(page, 'The old dome');
  await around(page, /the section “The old dome”/);
  await expect(margin(page).getByText('Column 1 of 2')).toBeVisible();
  await page.getByRole('button', { name: 'Add a column' }).click();
  await take(page, 'The old dome');
  await around(page, /the section “The old dome”/);
  await expect(margin(page).getByText('Column 1 of 3')).toBeVisible();
  await axe(page);
  const wide = () =>
    draft(page).locator('h2', { hasText: 'The old dome' }).evaluate((h) => [...h.closest('.cols')!.children].map((c) => Math.round(c.getBoundingClientRect().width)));
  await page.getByText('1280', { exact: true }).click(); // beside the margin there is room for two
  await soon(async () => Math.max(...(await wide())) - Math.min(...(await wide()))).toBeLessThan(3);
  await page.getByRole('button', { name: 'wide, narrow, narrow' }).click();
  await kept(page);
  await soon(async () => (await wide())[0]! > 1.4 * (await wide())[1]!).toBe(true);
  await page.getByText('390', { exact: true }).click();
  await expect
    .poll(() =>
      draft(page).locator('h2', { hasText: 'The old dome' }).evaluate((h) => {
        const at = [...h.closest('.cols')!.children].map((c) => c.getBoundingClientRect());
        return at.every((r, i) => i === 0 || r.top >= at[i - 1]!.bottom - 1);
      }),
    )
    .toBe(true);
  await page.getByText('fit', { exact: true }).click();

  const pictures = draft(page).locator('img[src^="data:"]'); // that are still to be chosen
  await expect(pictures).toHaveCount(2);
  await pictures.last().click();
  await around(page, /the (section|item)/);
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(pictures).toHaveCount(1);
});

test('a section is hidden, published, shown again by another request, and moved to another page', async ({ page }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const was = read('osprey', 'courses/index.html');
  const before = files(`${dir}/sites/osprey`);
  let number = await newRequest(page, 'Osprey Hall Climbing', 'No falling this winter: take “Falling well” off the courses until spring.');
  await openBench(page, number, '/courses/');
  await take(page, 'Falling well');
  await around(page, /the section “Falling well”/);
  await page.getByRole('button', { name: 'Hide', exact: true }).click();
  const hidden = page.getByRole('region', { name: 'Hidden on this page' });
  await expect(hidden).toContainText('still live for visitors');
  await axe(page);
  await publish(page);
  expect(read('osprey', 'courses/index.html')).not.toContain('Falling well');

  number = await newRequest(page, 'Osprey Hall Climbing', 'Spring: falling well is back, please.');
  await openBench(page, number, '/courses/');
  await expect(hidden).toContainText('hidden from visitors');
  await hidden.getByRole('button', { name: 'Show again' }).click();
  await expect(draft(page).getByText('Falling well')).toBeVisible();
  await expect(hidden).toHaveCount(0);
  await publish(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);

  number = await newRequest(page, 'Osprey Hall Climbing', 'Falling well belongs on the questions page.');
  await openBench(page, number, '/courses/');
  await take(page, 'Falling well');
  await around(page, /the section “Falling well”/);
  await page.getByRole('button', { name: 'Move to…' }).click();
  await page.getByRole('menuitem', { name: 'to another page…' }).click();
  const form = page.getByRole('region', { name: 'To another page' });
  await form.getByRole('combobox', { name: /page|address/i }).first().fill('questions');
  await page.getByRole('option', { name: /\/questions\// }).click();
  await expect(form.getByLabel('The place')).toBeVisible();
  await axe(page);
  await form.getByRole('button', { name: 'Move it there' }).click();
  await page.waitForURL(/bench\/\d+\?part=/);
  await expect(draft(page).getByText('Falling well')).toBeVisible();
  await publish(page);
  expect(read('osprey', 'questions/index.html')).toContain('Falling well');
  expect(differing(before, files(`${dir}/sites/osprey`)).sort()).toEqual(['courses/index.html', 'questions/index.html']);
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
  expect(read('osprey', 'courses/index.html')).toBe(was);
});
