import { expect, test } from '@playwright/test';
import { axe, draft, field, inBlock, kept, letter, newRequest, signIn, take } from '../world';

test('from a page to the bench: what the checks say while one writes, a knot that opens, another page by typing', async ({ page }) => {
  await signIn(page);
  const sites: { id: number; name: string }[] = await (await page.request.get('/api/sites')).json();
  await page.goto(`/sites/${sites.find((s) => s.name === 'Larkspur Ferries')!.id}`);
  await page.getByRole('button', { name: 'Change /islands/skerry.html' }).click();
  await page.getByRole('menuitem', { name: 'write down a new request' }).click();
  await expect(page.getByRole('heading', { name: 'New request' })).toContainText('about /islands/skerry.html');
  await page.getByLabel('What the client wrote or said').fill('The client called about Skerry: say that bowls are there.');
  await page.getByRole('button', { name: 'Keep and read it' }).click();
  await page.waitForURL(/\/bench\/\d+/);

  const first = await draft(page).locator('main p').first().innerText();
  await take(page, first.slice(0, 24));
  await inBlock(page, 'end');
  await page.keyboard.type(' Seperate the the bowls until 31 November.');
  await kept(page);
  const said = page.getByRole('list', { name: 'What the checks say of this part' });
  await expect(said).toContainText('“31 November” cannot be: November has 30 days.');
  await expect(field(page).locator('.said-stop')).toHaveText('31 November');
  await expect(field(page).locator('.said-look').first()).toHaveText('Seperate');
  await axe(page);
  await said.getByRole('listitem').filter({ hasText: 'is not in the dictionary' }).getByRole('button', { name: 'Mend it' }).click();
  await expect(draft(page).getByText('Separate the the bowls')).toBeVisible();
  await expect(said).not.toContainText('Seperate');

  const thread = page.getByRole('list', { name: 'The thread of changes' });
  await thread.getByRole('button').last().click();
  const knot = page.getByRole('dialog');
  await expect(knot).toContainText('kept, not live');
  await expect(knot).toContainText('Separate the the bowls');
  await axe(page);
  await knot.getByRole('button', { name: 'Undo this change' }).click();
  await expect(thread).toContainText('The thread is empty');
  await expect(draft(page).getByText('bowls until')).toHaveCount(0);

  await page.getByRole('heading', { name: /^Bench/ }).evaluate(() => (document.activeElement as HTMLElement).blur());
  await letter(page, 'g');
  const pick = page.getByRole('combobox', { name: 'The page, or another one of the site' });
  await expect(pick).toBeFocused();
  await page.keyboard.type('heron');
  await expect(page.getByRole('option', { name: /^\/islands\/heron\.html/ })).toBeVisible();
  await axe(page);
  await page.keyboard.press('Enter');
  await expect(pick).toHaveAttribute('placeholder', '/islands/heron.html');
  await expect(draft(page).getByRole('heading', { level: 1 })).toContainText('Heron');
});

test('a section is moved past several others in one act, and stays in hand; what cancels out leaves nothing', async ({ page }) => {
  await signIn(page);
  await newRequest(page, 'Larkspur Ferries', 'Put the dogs first.');
  await page.getByRole('link', { name: 'Bench', exact: true }).click(); // there from the first moment
  await page.waitForURL(/\/bench\/\d+/);
  const pick = page.getByRole('combobox', { name: 'The page, or another one of the site' });
  await pick.click();
  await page.keyboard.type('fares.html');
  await page.getByRole('option', { name: /^\/fares\.html/ }).click();
  await expect(pick).toHaveAttribute('placeholder', '/fares.html');
  const headings = () => draft(page).locator('main h2').allInnerTexts();
  await expect.poll(headings).toContain('Dogs');
  const was = await headings();
  await take(page, 'Dogs');
  await page.getByRole('button', { name: /^the section/ }).click();
  await page.getByRole('button', { name: 'Move to…' }).click();
  await page.getByRole('menuitem', { name: /^to the top/ }).click();
  await expect.poll(async () => (await headings()).indexOf('Dogs')).toBeLessThan(was.indexOf('Dogs'));
  await expect(page.getByRole('region', { name: 'The margin' }).getByRole('heading', { name: /Dogs/ })).toBeVisible();
  const knots = page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');
  await expect(knots).toHaveCount(1);
  await page.getByRole('button', { name: 'Copy below' }).click();
  await expect(knots).toHaveCount(2);
  await page.getByRole('button', { name: 'Take out' }).click(); // the copy is in hand
  await expect(knots).toHaveCount(1);
  await page.getByRole('button', { name: /^Undo last here/ }).click();
  await expect(knots).toHaveText([/^The thread is empty/]);
  await expect.poll(headings).toEqual(was);
});
