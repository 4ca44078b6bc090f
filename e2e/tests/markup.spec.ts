import type { Page } from '@playwright/test';
import { axe, dir, draft, expect, files, kept, newRequest, openBench, publish, read, signIn, takeBack, test } from '../world';

const margin = (page: Page) => page.getByRole('region', { name: 'The margin' });
const hand = (page: Page) => page.getByRole('region', { name: 'Markup' });
const editor = (page: Page) => hand(page).getByRole('textbox', { name: 'Markup' });

test('the markup of a section by hand: what is read otherwise is said, what breaks the page is refused, what is written is not lost', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page, 'ruth'); // the lead
  const before = files(`${dir}/sites/osprey`);
  const was = read('osprey', 'kids/index.html');
  const number = await newRequest(page, 'Osprey Hall Climbing', 'An anchor for the Saturday hour, and say that Corin is back.');
  await openBench(page, number, '/kids/');
  await draft(page).getByRole('heading', { name: 'Saturday hour' }).click();
  await margin(page).getByRole('button', { name: /the section “Saturday hour”/ }).first().click();
  await margin(page).getByRole('button', { name: 'Markup', exact: true }).click();
  await expect(editor(page)).toBeFocused();
  await axe(page);

  // Letters that act elsewhere are typed here: p, l, u, m, w, g.
  await page.keyboard.press('Control+End');
  for (let n = 0; n < '</div></section>'.length; n++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.type('<p>Bring a gum shield, help warm up: we laugh <b>a lot</p>', { delay: 20 });
  await expect(editor(page)).toContainText('<p>Bring a gum shield, help warm up: we laugh <b>a lot</p>');
  await expect(hand(page).getByText('“<b>” is closed here, though it is not written.')).toBeVisible();
  await axe(page);
  await page.keyboard.press('ArrowLeft'); // before </p>
  for (let n = 0; n < '</p>'.length - 1; n++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.type('</b>');
  await expect(hand(page).getByText('It is read as it is written.')).toBeVisible();

  // What is not kept stands here after the page was left and loaded anew.
  await page.reload();
  await draft(page).getByRole('heading', { name: 'Saturday hour' }).click();
  await margin(page).getByRole('button', { name: /the section “Saturday hour”/ }).first().click();
  await margin(page).getByRole('button', { name: 'Markup', exact: true }).click();
  await expect(hand(page).getByText('What you wrote here before and did not keep stands here again.')).toBeVisible();
  await expect(editor(page)).toContainText('we laugh <b>a lot</b></p>');
  await hand(page).getByRole('button', { name: /Keep this markup/ }).click();
  await expect(draft(page).getByText('Bring a gum shield')).toBeVisible();
  await expect(hand(page).getByText('As the draft has it.')).toBeVisible();

  // Writing on is the same change; what would break the page is refused.
  await page.keyboard.press('Escape');
  await margin(page).getByRole('button', { name: 'Markup', exact: true }).click();
  await expect(editor(page)).toBeFocused();
  await page.keyboard.press('Control+Home');
  for (let n = 0; n < '<section'.length; n++) await page.keyboard.press('ArrowRight');
  await page.keyboard.type(' id="saturday"');
  await page.keyboard.press('Control+End');
  await page.keyboard.type('</section>');
  await expect(hand(page).getByText('It would not be kept.')).toBeVisible();
  await expect(hand(page).getByRole('button', { name: /Keep this markup/ })).toBeDisabled();
  for (let n = 0; n < '</section>'.length; n++) await page.keyboard.press('Backspace');
  await expect(hand(page).getByText('It is read as it is written.')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(hand(page).getByText('As the draft has it.')).toBeVisible();
  await kept(page);
  await expect(page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(hand(page)).toHaveCount(0);
  await publish(page);
  expect(read('osprey', 'kids/index.html')).toBe(
    was
      .replace('<section class="block block--white"><div class="wrap"><h2>Saturday', '<section id="saturday" class="block block--white"><div class="wrap"><h2>Saturday')
      .replace('£7 with shoes.</p></div>', '£7 with shoes.</p><p>Bring a gum shield, help warm up: we laugh <b>a lot</b></p></div>'),
  );
  await takeBack(page);
  expect(files(`${dir}/sites/osprey`)).toEqual(before);

  // Who may not is not shown the way.
  await page.context().clearCookies();
  await signIn(page);
  await openBench(page, number, '/kids/');
  await draft(page).getByRole('heading', { name: 'Saturday hour' }).click();
  await expect(margin(page).getByRole('button', { name: 'Look', exact: true })).toBeVisible();
  await expect(margin(page).getByRole('button', { name: 'Markup', exact: true })).toHaveCount(0);
});
