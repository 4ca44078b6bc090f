import type { Page } from '@playwright/test';
import { axe, blockText, dir, draft, expect, files, inBlock, kept, letter, measured, newRequest, openBench, publish, read, signAndPublish, signIn, soon, tabTo, takeBack, takePicture, test } from '../world';

const margin = (page: Page) => page.getByRole('region', { name: 'The margin' });
const items = (page: Page) => page.getByRole('list', { name: /The items of/ }).locator('> li');
const row = (page: Page, name: string) => items(page).filter({ hasText: name });

/** Takes a set in hand out of the list of all parts. */
async function takeSet(page: Page, name: string) {
  await page.getByRole('button', { name: /^\d+ parts/ }).click();
  const list = page.getByRole('group', { name: 'Parts of the page' });
  await list.getByLabel('Narrow the list of parts').fill(name);
  await list.getByRole('button', { name: new RegExp(name) }).first().click();
  await expect(margin(page).getByRole('heading', { name: new RegExp(name) })).toBeVisible();
}

/** Takes a set in hand and unfolds one of its items. */
async function unfold(page: Page, set: string, item: string) {
  await takeSet(page, set);
  await row(page, item).getByRole('button', { name: item }).first().click();
}

/** Takes a field of the item that is unfolded in hand. */
const fieldOf = (page: Page, text: string | RegExp) => page.getByRole('list', { name: /What stands in/ }).getByRole('button', { name: text });

/** Writes in the place of what a field of the item that is unfolded says. */
async function fill(page: Page, kind: string, says: string, words: string) {
  await fieldOf(page, `${kind} ${says}`).first().click();
  await soon(() => blockText(page)).toBe(says);
  await inBlock(page, 'all');
  await page.keyboard.insertText(words);
  await kept(page);
}

test('voices: two out at once, one new with author, link and portrait, and other settings', async ({ page, browser }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'Priya and Sten out of the voices, please. New: “I fell twelve times and went home happy.” Marit K. Show eight for six seconds, fading, without dots.');
  await openBench(page, number, '/');
  await takeSet(page, 'voices under');
  await expect(items(page)).toHaveCount(4);
  await axe(page);
  await row(page, 'I came for a birthday').getByRole('checkbox').check();
  await row(page, 'The coaches see').getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Take out 2' }).click();
  await expect(items(page)).toHaveCount(2);

  await page.getByRole('button', { name: 'Add a voice' }).click();
  await expect(items(page)).toHaveCount(3);
  await expect(fieldOf(page, /picture to come/)).toBeVisible();
  await axe(page);
  await fill(page, 'words', 'New words', 'I fell twelve times and went home happy.');
  await expect(draft(page).getByText('I fell twelve times and went home happy.')).toBeInViewport(); // though three are shown at once
  await unfold(page, 'voices under', 'I fell twelve times');
  await fieldOf(page, /^link New link/).click();
  await page.getByLabel('Says').fill('Marit K.');
  await page.getByLabel('Leads to').fill('/courses/');
  await page.getByLabel('Leads to').blur();
  await kept(page);
  await unfold(page, 'voices under', 'I fell twelve times');
  await fieldOf(page, /picture to come/).click();
  const percent = page.getByRole('spinbutton', { name: 'Per cent of the width of the words' });
  await percent.fill('60');
  await percent.press('Enter');
  await soon(() => draft(page).locator('.voice__face').last().evaluate((i) => i.style.width)).toBe('60%');
  await page.getByRole('button', { name: 'One of this site' }).click();
  await page.getByLabel('Search the site’s pictures').fill('alwyn');
  await page.getByRole('button', { name: 'alwyn.jpg' }).click();
  await page.getByLabel('What it shows').fill('Marit, out of breath');
  await measured(page);
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
  await takePicture(page);

  await takeSet(page, 'voices under');
  await margin(page).getByLabel('Effect').selectOption('fade');
  await expect(draft(page).locator('.voices')).toHaveAttribute('data-effect', 'fade');
  for (const [label, value, name] of [['Time between slides', '6', 'data-seconds'], ['How many are shown', '8', 'data-show']] as const) {
    await margin(page).getByLabel(label).fill(value);
    await margin(page).getByLabel(label).blur();
    await expect(draft(page).locator('.voices')).toHaveAttribute(name, value);
  }
  await page.getByText('Dots', { exact: true }).click();
  await expect(draft(page).locator('.voices')).toHaveAttribute('data-dots', 'no');

  // Its name and place are still to come, and nothing slides where three of three are shown.
  await page.getByRole('button', { name: /Make proof/ }).click();
  await expect(page.getByText('8 are shown at once, and there are 3: nothing slides.')).toBeVisible();
  await expect(page.getByText('“New words” holds a place for words that are still to come.').first()).toBeVisible();
  await page.goBack();
  await takeSet(page, 'voices under');
  await margin(page).getByLabel('How many are shown').fill('2');
  await margin(page).getByLabel('How many are shown').blur();
  await row(page, 'I fell twelve times').getByRole('button', { name: /I fell twelve/ }).first().click();
  await fieldOf(page, /^words Marit K\./).click();
  await soon(() => blockText(page)).toBe('Marit K., New words');
  await inBlock(page, 'end');
  for (let n = 0; n < 'New words'.length; n++) await page.keyboard.press('Backspace');
  await page.keyboard.insertText('Beach Road');
  await kept(page);
  await signAndPublish(page, browser, 'Jory');
  const live = read('osprey', 'index.html');
  expect(live).toContain('data-seconds="6" data-effect="fade" data-show="2" data-dots="no" data-author="yes"');
  expect(live).toMatch(
    /<div class="voice"><img style="width:60%;height:auto" class="voice__face" src="\/media\/alwyn[^"]*\.jpg" alt="Marit, out of breath"[^>]*><p>I fell twelve times and went home happy\.<\/p><p class="voice__who"><a href="\/courses\/">Marit K\.<\/a>, Beach Road<\/p><\/div><\/div>/,
  );
  expect(live).not.toContain('Priya');
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('questions and answers: one retitled, one added, one moved, one out', async ({ page }) => {
  test.setTimeout(200_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'Questions: the dog first, no clothes, and one about children.');
  await openBench(page, number, '/questions/');
  await takeSet(page, 'questions under');
  await expect(items(page)).toHaveCount(3);
  await row(page, 'May I bring my dog?').getByRole('button', { name: /further up/ }).click();
  await expect(items(page).nth(1)).toContainText('May I bring my dog?');
  await row(page, 'May I bring my dog?').getByRole('button', { name: /further up/ }).focus();
  await page.keyboard.press('Enter');
  await expect(items(page).first()).toContainText('May I bring my dog?');
  await row(page, 'What do I wear?').getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Take out 1' }).click();
  await expect(items(page)).toHaveCount(2);
  await page.getByRole('button', { name: 'Add a question' }).click();
  await expect(items(page)).toHaveCount(3);
  await axe(page);
  await fill(page, 'heading', 'New question?', 'From what age?');
  await unfold(page, 'questions under', 'From what age?');
  await fill(page, 'words', 'New words', 'From four, with a grown-up.');
  await unfold(page, 'questions under', 'Do I need a partner?');
  await fill(page, 'heading', 'Do I need a partner?', 'Do I need somebody with me?');
  await publish(page);
  const live = read('osprey', 'questions/index.html');
  expect(live).toContain(
    '<h1>Questions</h1><h2>May I bring my dog?</h2><p>Into the café, yes. On the mats, no.</p><h2>Do I need somebody with me?</h2><p>Not for bouldering.',
  );
  expect(live).toContain('<h2>From what age?</h2><p>From four, with a grown-up.</p></div></section>');
  expect(live).not.toContain('What do I wear?');
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('tabs: one more, one moved, one that is closed filled; and a section moved by keys alone', async ({ page }) => {
  test.setTimeout(200_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'What to bring: the children first, something for belayers, and all of it at the top.');
  await openBench(page, number, '/courses/');
  await takeSet(page, 'tabs under');
  await expect(items(page)).toHaveText([/Ropes/, /The cave/, /Children/]);
  await expect(draft(page).getByText('A grown-up, a drink')).toBeHidden();
  await row(page, 'Children').getByRole('button', { name: /Children/ }).first().click();
  await fill(page, 'words', 'A grown-up, a drink, and socks without holes.', 'A grown-up, a drink, and whole socks.');
  await expect(draft(page).getByText('A grown-up, a drink, and whole socks.')).toBeVisible(); // the frame opened the tab
  await expect(draft(page).getByText('Trousers that let you step high')).toBeHidden();
  await takeSet(page, 'tabs under');
  await row(page, 'Children').getByRole('button', { name: /further up/ }).click();
  await expect(items(page)).toHaveText([/Ropes/, /Children/, /The cave/]);
  await page.getByRole('button', { name: 'Add a tab' }).click();
  await expect(items(page)).toHaveCount(4);
  await axe(page);
  await fill(page, 'link', 'New link', 'Belayers');
  for (const [kind, says, words] of [['heading', 'New heading', 'For belayers'], ['words', 'New words', 'Gloves, if you have some.']] as const) {
    await unfold(page, 'tabs under', 'Belayers');
    await fill(page, kind, says, words);
  }

  // By keys alone: the section goes above the one before it.
  const keys = page.keyboard;
  await keys.press('Escape');
  await keys.press('Escape');
  await letter(page, 'p');
  await expect(page.getByLabel('Narrow the list of parts')).toBeFocused();
  await keys.type('What to bring');
  const list = page.getByRole('group', { name: 'Parts of the page' });
  await tabTo(page, list.getByRole('button', { name: /What to bring\s*section/ }));
  await keys.press('Enter');
  await expect(margin(page).getByText('section', { exact: true })).toBeVisible();
  await tabTo(page, margin(page).getByRole('button', { name: 'Move up' }));
  await keys.press('Enter');
  await soon(() => draft(page).locator('h2').allTextContents()).toEqual(['The first rope', 'What to bring', 'Falling well', 'From the hall']);
  await publish(page);
  const live = read('osprey', 'courses/index.html');
  expect(live.indexOf('What to bring')).toBeLessThan(live.indexOf('Falling well'));
  expect(live).toMatch(/aria-controls="ropes">Ropes<\/a><\/li>\s*<li><a class="tabs__tab" id="tab-children"/);
  expect(live).toContain('<li><a class="tabs__tab" id="tab-ropes-2" href="#ropes-2" role="tab" aria-selected="false" aria-controls="ropes-2">Belayers</a></li>');
  expect(live).toContain(
    '<div class="tabs__panel" id="ropes-2" role="tabpanel" aria-labelledby="tab-ropes-2"><h3>For belayers</h3><p>Gloves, if you have some.</p></div>',
  );
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});

test('a press in the note in hand ends on what it began on, though the note grows meanwhile', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'Whole socks for the children.');
  let answered!: () => void;
  const held = new Promise<void>((go) => (answered = go));
  await page.route('**/bench/*/refused?*', async (route) => (await held, route.fallback()));
  await openBench(page, number, '/courses/');
  await takeSet(page, 'tabs under');
  const note = margin(page).locator('article');
  const button = row(page, 'Children').getByRole('button', { name: 'Children' }).first();
  await soon(async () => draft(page).getByRole('heading', { name: 'What to bring' }).isVisible()).toBe(true);
  const tall = (await note.boundingBox())!.height;
  await button.hover();
  await page.mouse.down();
  answered();
  await expect(margin(page).getByText('That is left as it is.')).toBeVisible();
  await soon(async () => (await note.boundingBox())!.height).toBeGreaterThan(tall);
  await page.mouse.up();
  await expect(fieldOf(page, /^words A grown-up/)).toBeVisible();
});

test('posts as a sliding set: one more from the fullest, how many slide and for how long, one past another', async ({ page }) => {
  test.setTimeout(200_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const was = read('osprey', 'courses/index.html');
  const number = await newRequest(page, 'Osprey Hall Climbing', 'A post on the new rope, first of all, please; three beside each other, five seconds each.');
  await openBench(page, number, '/courses/');
  await takeSet(page, 'posts under');
  await expect(items(page)).toHaveCount(3);
  await page.getByRole('button', { name: 'Add a post' }).click();
  await expect(items(page)).toHaveCount(4);
  await fieldOf(page, /^link New link/).click();
  await page.getByLabel('Says').fill('A new rope');
  await page.getByLabel('Leads to').fill('/house/');
  await page.getByLabel('Leads to').blur();
  await kept(page);
  await unfold(page, 'posts under', 'A new rope');
  await fill(page, 'words', 'New day', '16 November 2026');
  await unfold(page, 'posts under', 'A new rope');
  await fill(page, 'words', 'New words', 'Sixty metres, and not a knot in it.');
  await expect(draft(page).getByText('Sixty metres, and not a knot in it.')).toBeInViewport(); // it is slid to
  await takeSet(page, 'posts under');
  for (const [label, value, name] of [['Time between slides', '5', 'data-seconds'], ['How many are shown', '4', 'data-show']] as const) {
    await margin(page).getByLabel(label).fill(value);
    await margin(page).getByLabel(label).blur();
    await expect(draft(page).locator('.posts')).toHaveAttribute(name, value);
  }
  await axe(page);
  await page.getByRole('button', { name: /Make proof/ }).click();
  await expect(page.getByText('4 are shown at once, and there are 4: nothing slides.')).toBeVisible();
  await page.goBack();
  await takeSet(page, 'posts under');
  await margin(page).getByLabel('How many are shown').fill('3');
  await margin(page).getByLabel('How many are shown').blur();
  await expect(draft(page).locator('.posts')).toHaveAttribute('data-show', '3');
  await kept(page);
  await publish(page);
  const live = read('osprey', 'courses/index.html');
  expect(live).toContain('<div class="posts" data-seconds="5" data-effect="slide" data-show="3" data-dots="yes">');
  expect(live).toContain('<h3><a href="/house/">A new rope</a></h3>');
  expect(live).toContain('<time>16 November 2026</time>'); // not the day of the post that it was made like
  expect(live).toContain('<p>Sixty metres, and not a knot in it.</p></article>');
  await takeBack(page);
  expect(read('osprey', 'courses/index.html')).toBe(was);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);
});
