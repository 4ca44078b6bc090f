import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { axe, beginAgain, blockText, choose, dir, draft, expect, field, files, inBlock, kept, letter, openBench, paste, point, publish, signIn, soon, take, test, words } from '../world';

const read = (site: string, file: string) => readFileSync(`${dir}/sites/${site}/${file}`, 'utf8');
const thread = 'The thread of changes';

/** Pages at such an address get another type, taller than the one that stands in for it, when they have been loaded. */
const typeComesLate = async (page: Page, address: string) => {
  await page.route(/late-type\.woff2/, async (r) => {
    await new Promise((done) => setTimeout(done, 600));
    await r.fulfill({ path: '../internal/demo/fonts/crimson-pro.woff2', headers: { 'access-control-allow-origin': '*' } });
  });
  await page.addInitScript((at) => {
    if (!location.pathname.endsWith(at)) return;
    const css = `@font-face { font-family: Late; src: url(/fonts/late-type.woff2?${Math.random()}); ascent-override: 400%; font-display: swap }
      p, li { font: 15px/normal Late, serif !important }`;
    addEventListener('load', () => document.head.append(Object.assign(document.createElement('style'), { textContent: css })));
  }, address);
};

test('a Markdown page: a word, a link out, a moved and a removed paragraph; Markdown stays, nothing else differs', async ({ page }) => {
  await signIn(page);
  const before = read('bramble', 'articles/broad-beans.md');
  await openBench(page, 209, '/articles/broad-beans');
  await point(page, 'Mice dig up what is sown too shallow.');
  await page.getByRole('button', { name: 'Move up' }).click();
  await expect(page.getByRole('list', { name: thread }).getByRole('listitem')).toHaveCount(1);
  await expect(draft(page).locator('article p').nth(2)).toContainText('Mice'); // it is seen to have moved
  await take(page, 'Sow them');
  await expect(field(page)).toContainText('two to a hole');
  await choose(page, 'early');
  await page.keyboard.type('late');
  await kept(page);
  await expect(draft(page).locator('em')).toHaveText('late');
  await choose(page, 'centimetres');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('To a page, an address').fill('https://measures.example/');
  await axe(page);
  await page.getByRole('button', { name: 'Set the link' }).click();
  await kept(page);
  await take(page, 'Leave the last pods');
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(draft(page).getByText('Leave the last pods')).toHaveCount(0);
  await kept(page);
  await publish(page);
  const mice = 'Mice dig up what is sown too shallow.';
  expect(read('bramble', 'articles/broad-beans.md')).toBe(
    before
      .replace(`${mice}\n\n`, '')
      .replace('Autumn beans', `${mice}\n\nAutumn beans`)
      .replace('*early*', '*late*')
      .replace('five centimetres', 'five [centimetres](https://measures.example/)')
      .replace('Leave the last pods on the plant until they are black.\nThen bring us a handful.\n\n', ''),
  );
});

test('words that stand on nine pages, changed on all with the rest kept; where they stay, the reason is kept', async ({ page }) => {
  await signIn(page);
  const before = files(`${dir}/sites/pennyfield`);
  const boats = ['alder', 'birch', 'cedar', 'elm', 'hazel', 'linden', 'maple', 'rowan', 'willow'];
  const was = boats.map((b) => read('pennyfield', `boats/${b}.html`));
  await page.goto('/requests/207');
  const seems = page.getByRole('region', { name: 'What the letter seems to ask for' });
  await seems.getByRole('button', { name: /boats\/alder\.html “Write to us about Alder/ }).first().click();
  await expect(page.getByRole('button', { name: 'Open on the bench' })).toHaveCount(2);
  await axe(page);
  await openBench(page, 207, '/boats/alder.html');
  await point(page, 'Write to us about Alder and we answer within two days. A week costs from £640.');
  await choose(page, 'two days');
  await page.keyboard.type('one day');
  await kept(page);
  const same = page.getByRole('region', { name: 'The same words elsewhere' });
  await expect(same.getByRole('heading')).toHaveText('“two days” stands in 9 more places');
  await same.getByLabel(/contact\.html/).uncheck();
  await axe(page);
  await same.getByRole('button', { name: 'Change 8 to “one day”' }).click();
  await expect(same.getByRole('heading')).toHaveText('“two days” stands in 1 more place');
  await same.getByLabel('Why they stay').fill('Letters still take two days');
  await same.getByRole('button', { name: 'Leave' }).click();
  await expect(same.getByText('Left on purpose: Letters still take two days')).toBeVisible();
  await publish(page);
  boats.forEach((b, i) => expect(read('pennyfield', `boats/${b}.html`)).toBe(was[i]!.replace('two days', 'one day')));
  const now = files(`${dir}/sites/pennyfield`);
  expect(Object.keys(now).filter((f) => now[f] !== before[f])).toEqual(boats.map((b) => `boats/${b}.html`));
});

test('codes of another program survive; a date that cannot be is caught and mended; a slip in a list', async ({ page }) => {
  await signIn(page);
  await beginAgain(page, 208);
  const before = read('fenwick', 'season.html');
  await typeComesLate(page, '/season.html');
  await openBench(page, 208, '/season.html');
  await take(page, 'The Clockmaker’s Daughter');
  await expect(field(page).locator('p', { hasText: 'Clockmaker' }).locator('[data-seal]')).toHaveCount(2);
  await choose(page, '29 November');
  await page.keyboard.type('31 November');
  const where = () => draft(page).locator('body').evaluate(async () => {
    await document.fonts.ready;
    return [new URLSearchParams(location.search).get('mendry-load'), Math.round(scrollY)];
  });
  await draft(page).locator('body').evaluate(() => scrollTo(0, 300)); // away from the part in hand, and not at the end, which moves as type comes
  const [first, low] = await where();
  await soon(async () => (await where())[0]).not.toBe(first); // the page as it is kept takes its turn
  await kept(page);
  expect((await where())[1]).toBe(low);
  await take(page, 'balcony, 24 dolars');
  await words(page, 'Balcony, 24 dollars');
  await page.getByRole('button', { name: /Make proof/ }).click();
  await expect(page.getByRole('region', { name: 'Checks' }).getByText('“31 November” cannot be: November has 30 days.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Clear it ourselves' })).toBeHidden();
  await page.goBack(); // one step: the frames of pages add none of their own
  await expect(page).toHaveURL(/\/bench\//);
  await take(page, 'The Clockmaker’s Daughter');
  await choose(page, '31 November');
  await page.keyboard.type('30 November');
  await kept(page);
  await publish(page);
  expect(read('fenwick', 'season.html')).toBe(before.replace('29 November', '30 November').replace('balcony, 24 dolars', 'Balcony, 24 dollars'));
});

test('bold becomes italic, a link inside with a title, and a paste from a word processor', async ({ page }) => {
  await signIn(page, 'tobias');
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'The fortnight' })).toBeVisible();
  const before = read('fenwick', 'index.html');
  await letter(page, 'n');
  await page.getByLabel('What the client wrote or said').fill('On the first page, nine players should be italic, and plan should lead to the visit.');
  await page.getByRole('combobox', { name: 'Site', exact: true }).selectOption({ label: 'Fenwick Lantern Theatre' });
  await page.getByRole('button', { name: 'Keep and read it' }).click();
  await page.waitForURL(/requests\/\d+$/);
  const number = Number(page.url().split('/').at(-1));
  await openBench(page, number, '/');
  await take(page, 'We are a company');
  await choose(page, 'nine players');
  await page.getByRole('button', { name: 'Bold', exact: true }).click();
  await page.getByRole('button', { name: 'Italic', exact: true }).click();
  await kept(page);
  await expect(draft(page).locator('i').first()).toHaveText('nine players');
  await field(page).press('Escape');
  await draft(page).getByText('plan your visit').click(); // the words around it are taken up
  await choose(page, 'See');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('To a page, an address').fill('your visit');
  await page.getByRole('button', { name: /visit\.html/ }).click();
  await page.getByLabel('Title, shown').fill('How to find us');
  await page.getByRole('button', { name: 'Set the link' }).click();
  await kept(page);
  await point(page, 'Next');
  await inBlock(page, 'end');
  await paste(
    page,
    '<p class="Mso" style="margin:0"><span style="font-family:Calibri;font-weight:bold">at the</span> lantern<o:p></o:p></p>',
    'at the lantern',
  );
  await expect(page.getByText('Left out: 1 × class attribute, 2 × style attribute, 1 × word processor tag.')).toBeVisible();
  await axe(page);
  await kept(page);
  expect(await blockText(page)).toBe('Nextat the lantern');
  await publish(page);
  expect(read('fenwick', 'index.html')).toBe(
    before
      .replace('<b>nine players</b>', '<i>nine players</i>')
      .replace('<p>See the', '<p><a href="/visit.html" title="How to find us">See</a> the')
      .replace('<h2>Next</h2>', '<h2>Next<b>at the</b> lantern</h2>'),
  );
});
