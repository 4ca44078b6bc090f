import type { Page } from '@playwright/test';
import { existsSync, readdirSync } from 'node:fs';
import { axe, dir, draft, expect, files, kept, measured, mendry, newRequest, openBench, png, publish, read, signAndPublish, signIn, slowFrames, soon, tabTo, takeBack, takePicture, test, thisPageOnly } from '../world';

/** Hands a picture over from this machine and waits until it lies on the table. */
async function bring(page: Page, name: string, buffer: Buffer, mimeType = 'image/png') {
  await page.getByLabel('From this machine').setInputFiles({ name, mimeType, buffer });
  await measured(page);
}
const thread = (page: Page) => page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');

/** What is on a host that was not there before. */
const added = (site: string, before: Record<string, string>) => Object.keys(files(`${dir}/sites/${site}`)).filter((f) => !before[f]);

test('a phone photo that lies on its side takes the place of a coach’s portrait', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const letter = await (await page.request.get('/api/requests/201')).json();
  const boat = letter.attachments.find((a: { name: string }) => a.name === 'New boat.jpg');
  const photo = await (await page.request.get(`/api/attachments/${boat.id}`)).body(); // its points lie on their side (EXIF orientation 6)
  const number = await newRequest(page, 'Osprey Hall Climbing', 'Corin is away; show the new boat instead, please.');
  await openBench(page, number, '/coaches/');
  await draft(page).getByRole('img', { name: 'Corin at the cave' }).click();
  await expect(page.getByText(/shown \d+ × \d+ in a window of 1280, 1:1/)).toBeVisible();
  await bring(page, 'Café Übersicht.JPG', photo, 'image/jpeg');
  await expect(page.getByText(/5:2 · 1600 × 640/)).toBeVisible(); // upright
  await expect(page.getByText('fine: cafe-ubersicht.jpg has the shape of its place.')).toBeVisible();
  await expect(page.getByText('its alternative text is the old one')).toBeVisible();
  await page.getByLabel('What it shows').fill('The new boat at the quay');
  await expect(page.getByText('its alternative text is the old one')).toHaveCount(0);
  await axe(page);
  await page.getByRole('button', { name: 'Mirror' }).click();
  await page.getByRole('button', { name: 'A quarter turn to the right' }).click();
  await page.keyboard.press('[');
  await measured(page);
  await takePicture(page);
  await expect(thread(page)).toHaveCount(1);
  const shown = draft(page).getByRole('img', { name: 'The new boat at the quay' });
  await soon(() => shown.evaluate((i: HTMLImageElement) => i.naturalWidth / i.naturalHeight)).toBe(1);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);

  await publish(page);
  expect(added('osprey', before)).toEqual(['media/cafe-ubersicht.jpg']);
  const told = JSON.parse(mendry('picture', 'look', `${dir}/sites/osprey/media/cafe-ubersicht.jpg`).out);
  expect(told).toMatchObject({ media: 'image/jpeg', orientation: 1, width: told.height });
  expect(told.width).toBeGreaterThan(600);
  expect(read('osprey', 'coaches/index.html')).toContain('<img class="card__img" src="/media/cafe-ubersicht.jpg" alt="The new boat at the quay" width="640" height="640">');
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('a square is refused for a banner, and accepted when it is cut around its focus, by keyboard', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'A new picture for the top of the start page.');
  await openBench(page, number, '/');
  await draft(page).getByRole('heading', { level: 1 }).click();
  await page.getByRole('button', { name: 'The picture behind it' }).click();
  await bring(page, 'Hall square.png', png(1500, 1500));
  await page.getByText('whole', { exact: true }).click();
  await expect(page.getByText(/hall-square.png is 1:1, its place 5:2 in a window of 1280/)).toBeVisible();
  await takePicture(page);
  await page.getByRole('button', { name: /Make proof/ }).click();
  await expect(page.getByRole('region', { name: 'Checks' })).toContainText('hall-square.png is 1:1, its place 5:2');
  await expect(page.getByRole('button', { name: 'Clear it ourselves' })).toHaveCount(0);

  // Again, by keyboard alone: the part by the list, the table, the focus, the act.
  await page.goBack();
  await expect(draft(page).locator('body')).toBeVisible();
  await page.keyboard.press('p');
  const part = page.getByRole('button', { name: /The main hall with its coloured holds/ }).first();
  await part.focus();
  await page.keyboard.press('Enter');
  const again = page.getByRole('button', { name: 'Work on it again' });
  await again.focus();
  await page.keyboard.press('Enter');
  await measured(page);
  await page.getByRole('radio', { name: 'its place’s shape' }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText('It stops publishing as it is.')).toHaveCount(0);
  const focus = page.getByRole('button', { name: 'What is to stay in the middle' });
  const what = page.getByRole('button', { name: /What is kept, 1500 × 600/ });
  const top = () => what.evaluate((el) => el.getBoundingClientRect().top);
  const was = await top();
  await focus.focus();
  for (let n = 0; n < 12; n++) await page.keyboard.press('ArrowUp');
  expect(await top()).toBeLessThan(was - 10);
  await axe(page);
  await measured(page);
  await tabTo(page, page.getByRole('button', { name: 'Take this one' }));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Take this one' })).toHaveCount(0);
  await kept(page);
  await expect(thread(page)).toHaveCount(1);
  await publish(page);
  expect(added('osprey', before)).toHaveLength(1);
  const file = added('osprey', before)[0]!;
  expect(JSON.parse(mendry('picture', 'look', `${dir}/sites/osprey/${file}`).out)).toMatchObject({ width: 1500, height: 600 });
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('a background comes with the share picture', async ({ page, browser }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/saltgate`);
  const number = await newRequest(page, 'Saltgate Observatory', 'The new night sky for the start page.');
  await openBench(page, number, '/');
  await draft(page).getByRole('heading', { level: 1 }).click();
  await page.getByRole('button', { name: 'The picture behind it' }).click();
  await bring(page, 'Night sky.png', png(2600, 1400));
  await expect(page.getByLabel('in step')).toBeChecked();
  await axe(page);
  await takePicture(page);
  await expect(thread(page)).toHaveCount(1);
  await expect(thread(page).first()).toContainText('the share picture in step');
  await signAndPublish(page, browser, 'Ilse Varnham');
  const page_ = read('saltgate', 'index.html');
  const now = added('saltgate', before).sort();
  expect(now).toHaveLength(2);
  expect(page_).toContain(`background-image:url('/${now.find((f) => page_.includes(`url('/${f}')`))}')`);
  const share = /og:image" content="http:\/\/[^/]+\/([^"]+)"/.exec(page_)![1]!;
  expect(now).toContain(share);
  expect(JSON.parse(mendry('picture', 'look', `${dir}/sites/saltgate/${share}`).out)).toMatchObject({ width: 1200, height: 628 });
  await takeBack(page);
  expect(files(`${dir}/sites/saltgate`)).toEqual(before);
});

test('a poster for wide and one for narrow screens', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/fenwick`);
  const number = await newRequest(page, 'Fenwick Lantern Theatre', 'The new stage, wide and for phones.');
  await openBench(page, number, '/');
  await draft(page).getByRole('img', { name: /The stage with its hanging lanterns/ }).click();
  await bring(page, 'Stage wide.png', png(2600, 1100));
  await page.getByLabel('This machine', { exact: true }).setInputFiles({ name: 'Stage phone.png', mimeType: 'image/png', buffer: png(800, 1000) });
  await expect(page.getByRole('heading', { name: /Stage phone.png, for/ })).toBeVisible();
  await page.getByRole('button', { name: 'Stage wide.png' }).click();
  await measured(page);
  await page.getByLabel('On phones').selectOption({ label: 'Stage phone.png' });
  await measured(page);
  await axe(page);
  await takePicture(page);
  const shown = draft(page).getByRole('img', { name: /The stage with its hanging lanterns/ });
  await soon(() => shown.evaluate((i: HTMLImageElement) => i.currentSrc)).toMatch(/stage-wide/);
  await page.getByText('390', { exact: true }).click();
  await soon(() => shown.evaluate((i: HTMLImageElement) => i.currentSrc)).toMatch(/stage-phone/);
  await publish(page);
  expect(added('fenwick', before)).toHaveLength(2);
  expect(read('fenwick', 'index.html')).toMatch(/<source media="\(max-width: 600px\)" srcset="\/img\/stage-phone[^"]*\.png"><img src="\/img\/stage-wide\.png"/);
  await takeBack(page);
  expect(files(`${dir}/sites/fenwick`)).toEqual(before);
});

test('a picture on a page in Markdown', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'A new picture of the beans.');
  await openBench(page, number, '/articles/broad-beans');
  const shown = draft(page).getByRole('img').first();
  const was = await shown.getAttribute('alt');
  await shown.click();
  await bring(page, 'Beans 2027.png', png(2000, 1400));
  await page.getByLabel('What it shows').fill('Beans in a bowl');
  await measured(page);
  await takePicture(page);
  await expect(draft(page).getByRole('img', { name: 'Beans in a bowl' })).toBeVisible();
  await publish(page);
  await takeBack(page);
  await openBench(page, number, '/articles/broad-beans');
  await expect(draft(page).getByRole('img', { name: was! })).toBeVisible();
  expect(existsSync(`${dir}/sites/bramble`) && readdirSync(`${dir}/sites/bramble`).length).toBeTruthy();
});

test('a picture between two paragraphs, at the left with a caption, made smaller, moved and taken out', async ({ page }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const before = files(`${dir}/sites/pennyfield`);
  const live = read('pennyfield', 'first-day.html');
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'Please show the lock on the page of the first day.');
  await openBench(page, number, '/first-day.html');
  const words = draft(page).locator('p').nth(1);
  const said = (await words.innerText()).slice(0, 24);
  await words.click();
  await page.getByRole('button', { name: 'Picture below' }).click();
  await axe(page);
  await page.getByLabel('This machine', { exact: true }).setInputFiles({ name: 'The lock.png', mimeType: 'image/png', buffer: png(1200, 800) });
  const go = page.getByRole('button', { name: 'Take this one' });
  await expect(page.getByText('Say what it shows, or that it is an ornament.')).toBeVisible();
  await expect(go).toBeDisabled();
  await page.getByLabel('What it shows').fill('The top lock with its gates open');
  await page.getByRole('region', { name: /^A picture for/ }).getByText('left', { exact: true }).click();
  await page.getByRole('textbox', { name: 'Caption' }).fill('Mind the step');
  await page.getByRole('textbox', { name: 'Caption' }).press('Tab');
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
  await axe(page);
  await takePicture(page);
  const shown = draft(page).getByRole('img', { name: 'The top lock with its gates open' });
  await expect(shown).toBeVisible();
  await expect(draft(page).getByText('Mind the step')).toBeVisible();
  await expect(thread(page)).toHaveCount(1);
  await soon(() => shown.evaluate((i) => getComputedStyle(i.closest('figure')!).float)).toBe('left');

  // The one that was put in is in hand: made smaller there, and moved.
  const share = () => shown.evaluate((i) => i.closest('figure')!.getBoundingClientRect().width / i.closest('figure')!.parentElement!.getBoundingClientRect().width);
  const percent = page.getByRole('spinbutton', { name: 'Per cent of the width of the words' });
  await percent.fill('70');
  await percent.press('Enter');
  await soon(async () => Math.round((await share()) * 10)).toBe(7);
  await expect(thread(page)).toHaveCount(1);
  const after = () => draft(page).locator('figure').last().evaluate((f) => f.previousElementSibling!.textContent!.trim().slice(0, 24));
  expect(await after()).toBe(said);
  await page.getByRole('button', { name: 'Move down' }).click();
  await expect(thread(page)).toHaveCount(2);
  await soon(after).not.toBe(said);
  await kept(page);
  await publish(page);
  expect(added('pennyfield', before)).toEqual([expect.stringMatching(/\/the-lock\.png$/)]);
  expect(read('pennyfield', 'first-day.html')).toContain('<figcaption>Mind the step</figcaption></figure>');
  await takeBack(page);
  expect(files(`${dir}/sites/pennyfield`)).toEqual(before);

  // Taken out before it is published, nothing is left of it but the two that went and came back.
  await openBench(page, number, '/first-day.html');
  await draft(page).locator('p').nth(1).click();
  await page.getByRole('button', { name: 'Picture below' }).click();
  await page.getByRole('button', { name: 'The lock.png' }).click();
  await page.getByLabel('It is an ornament').check();
  await takePicture(page);
  await expect(thread(page)).toHaveCount(3);
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(thread(page)).toHaveCount(2);
  expect(read('pennyfield', 'first-day.html')).toBe(live);
});

test('the pictures of a site: who uses them, and one of them in another place', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  await page.goto('/sites');
  await page.getByRole('link', { name: 'Osprey Hall Climbing' }).first().click();
  await page.getByRole('main').getByRole('link', { name: 'Pictures', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Pictures of Osprey Hall Climbing' })).toBeVisible();
  await page.getByRole('button', { name: 'Look again' }).click();
  await expect(page.getByRole('button', { name: 'Look again' })).toBeEnabled();
  await expect(page.getByRole('button', { name: 'Look again' })).toHaveCSS('opacity', '1');
  await expect(page.getByRole('status').filter({ hasText: /\d+ pictures and \d+ files, named in \d+ places/ })).toBeVisible();
  await page.getByLabel('Search').fill('coaches');
  await expect(page.getByRole('button', { name: /cave\.jpg/ })).toHaveCount(0);
  await page.getByLabel('Search').fill('steep wall');
  await page.getByRole('button', { name: /cave\.jpg/ }).click();
  const facts = page.getByRole('complementary', { name: 'The picture' });
  await expect(facts).toContainText('The steep wall of the cave');
  await axe(page);

  const number = await newRequest(page, 'Osprey Hall Climbing', 'The cave on the page of the children, please.');
  await openBench(page, number, '/kids/');
  await draft(page).getByRole('img', { name: 'Holds of all colours on the dragon wall' }).click();
  await page.getByRole('button', { name: 'One of this site' }).click();
  await page.getByLabel('Search the site’s pictures').fill('cave');
  await page.getByRole('button', { name: 'cave.jpg' }).click();
  await measured(page);
  await page.getByText('whole', { exact: true }).click();
  await page.getByLabel('What it shows').fill('The steep wall of the cave, from below');
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
  await axe(page);
  await takePicture(page);
  await publish(page);
  expect(read('osprey', 'kids/index.html')).toMatch(/src="\/media\/cave[^"]*\.jpg" alt="The steep wall of the cave, from below"/);
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('three pictures at once into a gallery, one out, and another order', async ({ page, browser }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const before = files(`${dir}/sites/marlow`);
  const number = await newRequest(page, 'Marlow Kite Museum', 'Three new kites for the gallery, please, and the last one first.');
  await openBench(page, number, '/gallery.html');
  const pictures = draft(page).locator('main img, #main img');
  await expect(pictures.last()).toBeVisible();
  const many = await pictures.count();
  await pictures.last().click();
  const up = page.getByRole('article').getByRole('button', { name: /^the (item|set|section)/ });
  for (let n = 0; n < 4 && !(await page.getByRole('button', { name: 'Add pictures' }).isVisible()); n++) await up.first().click();
  await page.getByRole('button', { name: 'Add pictures' }).click();
  await page.getByLabel('From this machine, several at once').setInputFiles(
    ['Comet', 'Heron', 'Anchor'].map((name) => ({ name: `${name}.png`, mimeType: 'image/png', buffer: png(1600, 1200) })),
  );
  for (const name of ['Comet', 'Heron', 'Anchor']) await page.getByLabel(`What ${name}.png shows`).fill(`The kite ${name}`);
  await page.getByRole('button', { name: 'Add 3', exact: true }).click();
  await expect(page.getByText('The pictures of this set have a caption').first()).toBeVisible();
  for (const name of ['Comet', 'Heron', 'Anchor']) await page.getByLabel(`Caption of ${name}.png`).fill(name);
  await axe(page);
  await page.getByRole('button', { name: 'Add 3', exact: true }).click();
  await expect(pictures).toHaveCount(many + 3);
  await expect(thread(page)).toHaveCount(1);

  const items = page.getByRole('list', { name: /The items of/ }).getByRole('listitem');
  await expect(items).toHaveCount(many + 3);
  await items.nth(many + 1).getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Take out 1' }).click();
  await expect(items).toHaveCount(many + 2);
  await expect(draft(page).getByRole('img', { name: 'The kite Heron' })).toHaveCount(0);
  await items.last().hover(); // the drag begins before the list is scrolled, as by a hand
  await page.mouse.down();
  await items.nth(many).hover();
  await items.first().hover();
  await items.first().hover();
  await page.mouse.up();
  await expect(pictures.first()).toHaveAttribute('alt', 'The kite Anchor');
  const second = (await pictures.nth(1).getAttribute('alt'))!;
  await items.nth(1).getByRole('button', { name: /further down/ }).focus();
  await page.keyboard.press('Enter');
  await expect(thread(page)).toHaveCount(4);
  await expect(pictures.nth(2)).toHaveAttribute('alt', second); // the page comes after the thread
  await axe(page);
  const alts = await pictures.evaluateAll((all) => all.map((i) => i.getAttribute('alt')));
  await signAndPublish(page, browser, 'Peta Rowling');
  const live = read('marlow', 'gallery.html');
  const at = alts.map((a) => live.indexOf(`alt="${a}"`));
  expect(at.every((n) => n > 0)).toBe(true);
  expect([...at].sort((a, b) => a - b)).toEqual(at);
  await takeBack(page);
  expect(files(`${dir}/sites/marlow`)).toEqual(before);
});

test('a picture that stands on the page is laid at the right and made smaller', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'The lock may be smaller, beside the words.');
  await openBench(page, number, '/first-day.html');
  const shown = draft(page).getByRole('img', { name: /A narrow lock/ });
  await shown.click();
  await page.getByText('right', { exact: true }).click();
  await soon(() => shown.evaluate((i) => getComputedStyle(i).float)).toBe('right');
  const percent = page.getByRole('spinbutton', { name: 'Per cent of the width of the words' });
  await expect(percent).toHaveValue('40');
  await percent.fill('55');
  await percent.press('Enter');
  await soon(() => shown.evaluate((i) => i.style.width)).toBe('55%');
  await expect(thread(page)).toHaveCount(1);
  await page.getByText('between', { exact: true }).click();
  await percent.fill('100');
  await percent.press('Enter');
  await soon(() => shown.evaluate((i) => getComputedStyle(i).float)).toBe('none');
  await axe(page);
});

test('a picture that stands on the page gets a caption and a link, and is pulled smaller by its corner', async ({ page }) => {
  await slowFrames(page); // what the page says of its size comes when it was tried otherwise, or given up
  await signIn(page);
  const before = files(`${dir}/sites/pennyfield`);
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'Say what the lock is, and let it lead to the boats.');
  await openBench(page, number, '/first-day.html');
  const shown = draft(page).getByRole('img', { name: /A narrow lock/ });
  await shown.click();
  await page.getByLabel('Caption').pressSequentially('Hatch Lock, the first of nine', { delay: 20 });
  await page.getByLabel('A click leads to').pressSequentially('/boats/', { delay: 20 });
  await expect(thread(page)).toHaveCount(2);
  await expect(draft(page).locator('figcaption')).toHaveText('Hatch Lock, the first of nine');
  await expect(draft(page).locator('figure a > img')).toHaveCount(1);

  const corner = page.getByRole('slider', { name: /Width of the picture/ });
  await shown.scrollIntoViewIfNeeded();
  const full = Number(await corner.getAttribute('aria-valuenow'));
  const at = (await corner.boundingBox())!;
  await page.mouse.move(at.x + 7, at.y + 7);
  await page.mouse.down();
  await page.mouse.move(at.x - 120, at.y - 40, { steps: 6 });
  await soon(async () => Number(await corner.getAttribute('aria-valuenow'))).toBeLessThan(full - 8);
  await page.mouse.up();
  await expect(thread(page)).toHaveCount(3);
  const pulled = await corner.getAttribute('aria-valuenow');
  await soon(() => draft(page).locator('figure').evaluate((f) => f.style.width)).toBe(`${pulled}%`);
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
  await corner.focus(); // and by the keyboard, first for nothing
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Escape');
  await expect(corner).toHaveAttribute('aria-valuenow', pulled!);
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Enter');
  await soon(() => draft(page).locator('figure').evaluate((f) => f.style.width)).toBe(`${Number(pulled) - 5}%`);
  await expect(thread(page)).toHaveCount(3);
  await axe(page);

  await publish(page);
  const now = read('pennyfield', 'first-day.html');
  expect(now).toMatch(/<figure[^>]*width:\d+%[^>]*><a href="\/boats\/"><img [^>]*><\/a><figcaption>Hatch Lock, the first of nine<\/figcaption><\/figure>/);
  await takeBack(page);
  expect(files(`${dir}/sites/pennyfield`)).toEqual(before);
});

test('what nothing names is taken away from the host, and brought back', async ({ page }) => {
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  await page.goto('/pictures');
  await page.getByRole('link', { name: /Osprey Hall Climbing/ }).first().click();
  await page.getByRole('button', { name: 'Look again' }).click();
  await expect(page.getByRole('button', { name: 'Look again' })).toBeEnabled();
  await page.getByText(/^files \d/).click();
  await expect(page.getByRole('button', { name: /^PDF prices\.pdf/ })).toBeVisible();
  await page.getByText(/^unused \d/).click();
  await expect(page.getByRole('button', { name: /prices\.pdf/ })).toHaveCount(0); // a page leads to it
  const away = page.getByRole('region', { name: 'Taken away' });
  for (const name of ['prices-2025.pdf', 'open-day-2025.jpg']) {
    await page.getByRole('button', { name }).click();
    await page.getByRole('button', { name: 'Take it away' }).click();
    await axe(page);
    await page.getByRole('dialog').getByRole('button', { name: 'Take it away' }).press('Enter');
    await expect(away.getByRole('listitem').filter({ hasText: name })).toContainText('away, not live');
    expect(Object.keys(files(`${dir}/sites/osprey`))).not.toContain(`media/${name}`);
  }
  await axe(page);
  for (const name of ['prices-2025.pdf', 'open-day-2025.jpg']) {
    await away.getByRole('button', { name: `Bring back ${name}` }).press('Enter');
    await expect(away.getByRole('listitem').filter({ hasText: name })).toContainText('back, live');
  }
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('a picture goes into a column; what a style sheet puts behind the footer is another one here alone, and on all pages', async ({ page, browser }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/saltgate`);
  const number = await newRequest(page, 'Saltgate Observatory', 'The dome below the visiting hours, and Jupiter at the bottom, please.');
  const ofSite = async (name: string) => {
    await page.getByText('this site', { exact: true }).click();
    await page.getByRole('button', { name }).press('Enter');
  };
  const behind = async () => {
    const footer = draft(page).locator('footer');
    await footer.scrollIntoViewIfNeeded();
    await footer.click({ position: { x: 5, y: 5 } });
    await thisPageOnly(page);
    await expect(page.getByText('behind it, by the site’s style sheet')).toBeVisible();
    await page.getByRole('button', { name: 'Another picture behind it' }).press('Enter');
    await ofSite('jupiter.jpg');
    await measured(page);
  };

  await openBench(page, number, '/');
  const column = draft(page).locator('.col').first();
  await column.getByRole('heading', { name: 'Visiting hours' }).click();
  await page.getByRole('button', { name: /^the section “Visiting hours/ }).click();
  await page.getByRole('button', { name: 'Picture at its end' }).press('Enter');
  await ofSite('dome.jpg');
  await expect(page.getByRole('heading', { name: /dome\.jpg, at the end of/ })).toBeVisible();
  await page.getByLabel('What it shows').fill('The dome with its roof open');
  await axe(page);
  await takePicture(page);
  await expect(column.locator('figure').getByRole('img', { name: 'The dome with its roof open' })).toBeVisible();
  await expect(thread(page).first()).toContainText('at the end of');

  await behind(); // on all pages
  await page.getByLabel('replaced', { exact: true }).press('Space');
  await expect(page.getByText(/It changes on .*saltgate\.css/)).toBeVisible();
  await takePicture(page);
  await expect(thread(page)).toHaveCount(2);

  await openBench(page, number, '/tonight.html');
  await behind(); // here alone
  await axe(page);
  await takePicture(page);
  await soon(() => draft(page).locator('footer').evaluate((f) => getComputedStyle(f).backgroundImage)).toMatch(/gradient.*jupiter/);
  await axe(page);

  await signAndPublish(page, browser, 'Ilse Varnham');
  const now = files(`${dir}/sites/saltgate`);
  const written = Object.keys(now).filter((f) => now[f] !== before[f]);
  expect(written.filter((f) => before[f]).sort()).toEqual(['files/sky.jpg', 'index.html', 'tonight.html']); // and no sheet
  expect(written.filter((f) => !before[f])).toEqual([expect.stringMatching(/^files\/jupiter.*\.jpg$/)]);
  expect(read('saltgate', 'index.html')).toMatch(/Plan a visit<\/a><\/p>\s*<figure[^>]*><img src="\/files\/dome\.jpg"[^>]*><\/figure>/);
  expect(read('saltgate', 'tonight.html')).toMatch(/<footer style="background-image:linear-gradient\([^"]*url\('\/files\/jupiter[^']*\.jpg'\)">/);
  await takeBack(page);
  expect(files(`${dir}/sites/saltgate`)).toEqual(before);
});
