import { axe, draft, expect, field, inBlock, kept, letter, mark, measured, newRequest, openBench, png, publish, read, signIn, soon, take, takePicture, test, words } from '../world';

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

test('a wish marked while the line is slow is marked once, and words typed meanwhile do not place the wish before', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Say that dogs are welcome. Leave out the schools.');
  await page.goto(`/requests/${number}`);
  let slow = false;
  await page.route(/\/wishes$/, async (route) => {
    if (slow) await new Promise((on) => setTimeout(on, 1500));
    await route.continue();
  });
  const find = page.getByRole('combobox', { name: 'Where on Larkspur Ferries?' });
  await mark(page, 'dogs are welcome');
  await expect(find).toBeVisible();
  slow = true;
  await mark(page, 'Leave out the schools');
  await page.keyboard.press('m'); // again, before the answer
  await find.fill('fares and passes');
  await page.getByRole('option', { name: /fares\.html Fares and passes/ }).click();
  await expect(page.getByText('· Fares and passes')).toBeVisible();
  const { wishes }: { wishes: { words: string; address: string }[] } = await (await page.request.get(`/api/requests/${number}`)).json();
  expect(wishes.map((w) => [w.words, w.address ?? ''])).toEqual([
    ['dogs are welcome', ''],
    ['Leave out the schools', '/fares.html'],
  ]);
});

test('a section is moved past several others in one act, and stays in hand; what cancels out leaves nothing', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Put the dogs first.');
  await page.goto(`/requests/${number}`);
  await page.getByRole('link', { name: 'Bench', exact: true }).click(); // there from the first moment
  await page.waitForURL(/\/bench\/\d+/);
  const pick = page.getByRole('combobox', { name: 'The page, or another one of the site' });
  await pick.click();
  await page.keyboard.type('fares.html');
  await page.getByRole('option', { name: /^\/fares\.html/ }).click();
  await expect(pick).toHaveAttribute('placeholder', '/fares.html');
  const headings = () => draft(page).locator('main h2').allInnerTexts();
  await soon(headings).toContain('Dogs');
  const was = await headings();
  await take(page, 'Dogs');
  await page.getByRole('button', { name: /^the section/ }).click();
  await page.getByRole('button', { name: 'Move to…' }).click();
  await page.getByRole('menuitem', { name: /^to the top/ }).click();
  await soon(async () => (await headings()).indexOf('Dogs')).toBeLessThan(was.indexOf('Dogs'));
  await expect(page.getByRole('region', { name: 'The margin' }).getByRole('heading', { name: /Dogs/ })).toBeVisible();
  const knots = page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');
  await expect(knots).toHaveCount(1);
  await page.getByRole('button', { name: 'Copy below' }).click();
  await expect(knots).toHaveCount(2);
  await page.getByRole('button', { name: 'Take out' }).click(); // the copy is in hand
  await expect(knots).toHaveCount(1);
  await page.getByRole('button', { name: /^Undo last here/ }).click();
  await expect(knots).toHaveText([/^The thread is empty/]);
  await soon(headings).toEqual(was);
});

test('what went live is taken back alone, whatever it was; widths while editing; what would be refused is said before', async ({ page }) => {
  await signIn(page);
  const before = read('pennyfield', 'prices.html');
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'The quiet months can go, and say fuel for fifty miles.');
  await openBench(page, number, '/prices.html');
  await take(page, 'When it is quiet');
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(draft(page).getByText('When it is quiet')).toHaveCount(0);
  await take(page, 'Fuel for the first forty miles');
  await words(page, 'Fuel for the first fifty miles, bedding and a lesson at the tiller are included.');
  const bench = page.url();
  await publish(page);
  const live = read('pennyfield', 'prices.html');
  expect(live).not.toContain('When it is quiet');

  await page.goto(bench);
  const margin = page.getByRole('region', { name: 'The margin' });
  await page.getByRole('list', { name: 'The thread of changes' }).getByRole('button', { name: /When it is quiet/ }).click();
  await expect(page.getByRole('dialog').getByText('It is taken back by a new change')).toBeVisible();
  await axe(page);
  await page.getByRole('button', { name: 'Take this change back' }).click();
  await expect(draft(page).getByText('When it is quiet')).toBeVisible();
  await expect(margin.getByRole('heading', { name: /When it is quiet/ })).toBeVisible(); // it is in hand
  await expect(draft(page).getByText('fifty miles')).toBeVisible();

  for (const [width, px] of [['390', 390], ['768', 768], ['1280', 1280]] as const) {
    await page.getByRole('radio', { name: width }).check({ force: true });
    await soon(() => draft(page).locator('html').evaluate(() => innerWidth)).toBe(px);
    await expect(draft(page).getByText('When it is quiet')).toBeVisible();
  }
  await page.getByRole('radio', { name: 'Both' }).check({ force: true });
  await expect(page.frameLocator('iframe[title="The live page"]').getByText('fifty miles')).toBeAttached();
  await axe(page);
  await page.getByRole('radio', { name: 'Draft' }).check({ force: true });
  await page.getByRole('radio', { name: 'fit' }).check({ force: true });
  await publish(page);
  expect(read('pennyfield', 'prices.html')).toBe(before.replace('Fuel for the first forty miles', 'Fuel for the first fifty miles'));

  const beans = await newRequest(page, 'Bramble Row Seed Library', 'A column for the height.');
  await openBench(page, beans, '/articles/broad-beans');
  await take(page, 'Wharf White');
  await expect(page.getByText('Columns of a table in Markdown are changed in its markup.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Column: new after' })).toBeDisabled();
  await expect(page.getByRole('button', { name: 'Row: new below' })).toBeEnabled();
});

test('a picture of another shape is shown at the proof as it falls into its place', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'A new photo of Bettina.');
  await openBench(page, number, '/coaches/');
  await draft(page).getByRole('img', { name: 'Bettina, laughing' }).click();
  await page.getByLabel('From this machine').setInputFiles({ name: 'Bettina wide.png', mimeType: 'image/png', buffer: png(1600, 640) });
  await measured(page);
  await page.getByText('whole', { exact: true }).click();
  await expect(page.getByText('It stops publishing as it is.')).toBeVisible();
  await takePicture(page);
  await expect(page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem')).toHaveCount(1);
  await page.getByRole('button', { name: /Make proof/ }).click();
  for (const name of ['until now', 'after']) {
    const picture = page.getByRole('region', { name: 'What changes' }).getByRole('img', { name });
    await expect
      .poll(async () => {
        const box = await picture.boundingBox();
        return box && box.width / box.height;
      })
      .toBeCloseTo(1, 1); // its place is a square (aspect-ratio in the site's style sheet)
  }
});
