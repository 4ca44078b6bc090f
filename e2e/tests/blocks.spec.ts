import { axe, blockText, choose, draft, expect, field, follows, inBlock, kept, newRequest, openBench, paste, point, publish, read, runOf, signAndPublish, signIn, soon, take, takeBack, test, words } from '../world';

const margin = 'The margin';

test('a Markdown article: a third-level heading, a paragraph begun below it, a list mended, Markdown stays', async ({ page }) => {
  await signIn(page);
  const before = read('bramble', 'articles/keeping-seed.md');
  const number = await newRequest(page, 'Bramble Row Seed Library', 'A heading “Jars” under the list, please, and what jars we take.');
  await openBench(page, number, '/articles/keeping-seed');
  await take(page, 'Seed keeps when it is dry');
  await expect(field(page)).toBeFocused();
  await inBlock(page, 'end');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Jars');
  await page.getByLabel('What the block is').selectOption('Heading 2');
  await expect(draft(page).getByRole('heading', { name: 'Jars', level: 2 })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.keyboard.type('Lids');
  await kept(page);
  await page.getByLabel('What the block is').selectOption('Heading 3');
  await expect(draft(page).getByRole('heading', { name: 'Lids', level: 3 })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.keyboard.type('Any that fits.');
  await kept(page);
  await axe(page);
  await take(page, 'Put it in a jar');
  await words(page, 'Put it in a dry jar');
  await publish(page);
  expect(read('bramble', 'articles/keeping-seed.md')).toBe(
    before.replace('"How to sow them").\n', '"How to sow them").\n\n## Jars\n\n### Lids\n\nAny that fits.\n').replace('Put it in a jar', 'Put it in a dry jar'),
  );
  await takeBack(page);
  expect(read('bramble', 'articles/keeping-seed.md')).toBe(before);
});

test('words split in the middle are joined again and leave nothing; an item goes on in the one above, another leaves its list', async ({ page }) => {
  await signIn(page);
  const before = read('bramble', 'articles/keeping-seed.md');
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Make the first two steps one, please.');
  await openBench(page, number, '/articles/keeping-seed');
  const knots = page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');
  await take(page, 'Seed keeps when it is dry');
  await expect(field(page)).toBeFocused();
  const whole = await blockText(page);
  await choose(page, 'See ');
  await page.keyboard.press('ArrowLeft');
  await follows(page);
  await page.keyboard.press('Enter');
  await page.keyboard.type('Now ');
  expect(await blockText(page)).toBe('Now See broad beans.');
  await expect(knots).toHaveCount(2);
  await kept(page);
  await inBlock(page, 'start');
  await page.keyboard.press('Backspace');
  for (let n = 0; n < 4; n++) await page.keyboard.press('Delete');
  expect(await blockText(page)).toBe(whole);
  await kept(page);
  await expect(knots).toHaveText([/^The thread is empty/]);
  await inBlock(page, 'start');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.type('First of all');
  await kept(page);
  await expect(draft(page).locator('p').first()).toHaveText('First of all');
  await take(page, 'Dry it on paper');
  await inBlock(page, 'end');
  expect(await blockText(page)).toBe('Dry it on paper');
  await page.keyboard.press('Delete');
  await page.keyboard.press('Delete');
  await page.keyboard.type(' and p');
  expect(await blockText(page)).toBe('Dry it on paper and put it in a jar');
  await kept(page);
  await take(page, 'Write the year on it');
  await page.getByLabel('What the block is').selectOption('Paragraph');
  await expect(draft(page).locator('p').filter({ hasText: 'Write the year on it' })).toBeVisible();
  await expect(page.getByLabel('What the block is')).toHaveValue('p');
  await axe(page);
  await publish(page);
  expect(read('bramble', 'articles/keeping-seed.md')).toBe(
    before
      .replace('Seed keeps', 'First of all\n\nSeed keeps')
      .replace('1. Dry it on paper\n2. Put it in a jar\n3. Write', '1. Dry it on paper and put it in a jar\n\nWrite'),
  );
  await takeBack(page);
  expect(read('bramble', 'articles/keeping-seed.md')).toBe(before);
});

test('a column and a row come and go, a style of the site, an earlier wording comes back', async ({ page, browser }) => {
  await signIn(page, 'tobias');
  const before = read('larkspur', 'fares.html');
  const number = await newRequest(page, 'Larkspur Ferries', 'A row for prams, and the first words larger.');
  await openBench(page, number, '/fares.html');
  await point(page, 'Dog');
  await page.getByRole('button', { name: 'Row: new below' }).click();
  await expect(draft(page).getByRole('row')).toHaveCount(5);
  await expect(field(page)).toHaveText('');
  await page.keyboard.type('Pram');
  await kept(page);
  await point(page, 'Ten trips');
  await page.getByRole('button', { name: 'Column: new after' }).click();
  await expect(draft(page).getByRole('row').first().getByRole('columnheader')).toHaveCount(5);
  await axe(page);
  await page.getByRole('button', { name: /Undo last/ }).click();
  await expect(draft(page).getByRole('row').first().getByRole('columnheader')).toHaveCount(4);
  await take(page, 'Bicycles travel free');
  await page.getByRole('button', { name: 'Look', exact: true }).click();
  await page.getByRole('button', { name: /^lead larger/ }).click();
  await expect(draft(page).locator('p.lead')).toBeVisible();
  await axe(page);
  await take(page, 'Bicycles travel free');
  await words(page, 'Bicycles travel free on Sundays.');
  await page.getByRole('button', { name: 'Earlier wordings' }).click();
  await page.getByRole('button', { name: 'Bring back' }).first().click();
  await expect(draft(page).getByText('Bicycles travel free all year.')).toBeVisible();
  await expect(page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem')).toHaveCount(3);
  await signAndPublish(page, browser, 'Maren Quayle');
  expect(read('larkspur', 'fares.html')).toBe(
    before
      .replace('<p>Fares below', '<p class="lead">Fares below')
      .replace(
        /(\s*)<tr><td>Dog<\/td>.*<\/tr>/,
        (row, gap: string) => `${row}${gap}<tr><td>Pram</td><td></td><td></td><td></td></tr>`,
      ),
  );
  await takeBack(page);
  expect(read('larkspur', 'fares.html')).toBe(before);
});

test('a paste from a word processor with its structure, and words only', async ({ page }) => {
  await signIn(page, 'ruth');
  const before = read('fenwick', 'visit.html');
  const number = await newRequest(page, 'Fenwick Lantern Theatre', 'Put the two paragraphs and the list below the first words.');
  await openBench(page, number, '/visit.html');
  const first = draft(page).locator('main p').first();
  const line = (await first.innerText()).trim();
  await first.click();
  await inBlock(page, 'end');
  const pasted =
    '<html xmlns:o="urn:x"><body><!--StartFragment--><p class=MsoNormal style="margin:0"><b>Doors</b> open <mark style="background:yellow">at seven</mark>, <span dir="RTL">שלום</span>.<o:p></o:p></p>' +
    '<p class=MsoListParagraph style="mso-list:l0 level1 lfo1"><![if !supportLists]><span>·<span>&nbsp;&nbsp;</span></span><![endif]>Bring a lamp</p>' +
    '<p class=MsoListParagraph style="mso-list:l0 level1 lfo1"><![if !supportLists]><span>·<span>&nbsp;&nbsp;</span></span><![endif]>Wear a coat</p><!--EndFragment--></body></html>';
  await paste(page, pasted, 'Doors open at seven, שלום.\nBring a lamp\nWear a coat');
  await expect(page.getByText('Left out:')).toBeVisible();
  await expect(draft(page).getByText('Bring a lamp')).toBeVisible();
  await kept(page); // the page follows the cursor then, and is not aimed at while it moves
  await take(page, 'Bring a lamp');
  await choose(page, 'lamp');
  await page.keyboard.down('Shift');
  await field(page).evaluate((el) => el.dispatchEvent(new KeyboardEvent('keydown', { key: 'V', shiftKey: true, ctrlKey: true, bubbles: true })));
  await paste(page, '<b style="color:red">lantern</b>', 'lantern');
  await page.keyboard.up('Shift');
  await kept(page);
  expect(await blockText(page)).toBe('Bring a lantern');
  await expect(page.getByRole('region', { name: margin })).toContainText('Left out');
  await axe(page);
  await publish(page);
  const now = read('fenwick', 'visit.html');
  const put = '<p><strong>Doors</strong> open <mark>at seven</mark>, <span dir="rtl">שלום</span>.</p><ul><li>Bring a lantern</li><li>Wear a coat</li></ul>';
  expect(now.replace(/>\s+</g, '><')).toContain(`${line}</p>${put}`.replace(/>\s+</g, '><'));
  const at = now.indexOf('<p><strong>Doors</strong>');
  const end = now.indexOf('Wear a coat</li>');
  const after = now.indexOf('</ul>', end) + '</ul>'.length;
  expect(before.startsWith(now.slice(0, at).trimEnd())).toBe(true);
  expect(before.endsWith(now.slice(after))).toBe(true);
});

test('what is pasted without markup keeps its paragraphs, and loses what a PDF and a mail put into it', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Say more about drying, please.');
  await openBench(page, number, '/articles/keeping-seed');
  const was = await runOf(page, 'Seed keeps when it is dry');
  await take(page, 'Seed keeps when it is dry');
  await inBlock(page, 'end');
  await page.keyboard.press('Enter');
  await paste(page, '', 'The oﬃce gives infor-\nmation.\n\nCome by.\n-- \nEdie\n');
  await expect(draft(page).getByText('Come by.')).toBeVisible();
  await expect(page.getByRole('region', { name: margin })).toContainText('signature');
  await kept(page);
  const at = was.findIndex((b) => b.includes('Seed keeps when it is dry'));
  await soon(() => runOf(page, 'Seed keeps when it is dry')).toEqual(was.toSpliced(at + 1, 0, 'p The office gives information.', 'p Come by.'));
});

test('a paste while the line is slow: typed behind, left at once, undone, refused', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Words from our leaflet for the fares.');
  await openBench(page, number, '/fares.html');
  let answered = 0;
  let dead = false;
  await page.route('**/api/clean', async (route) => {
    await new Promise((on) => setTimeout(on, 1500));
    if (dead) await route.abort();
    else await route.continue();
    answered++;
  });
  const cleaned = async (n: number) => {
    await soon(() => answered).toBe(n);
    await follows(page);
  };
  const bold = '<p class=MsoNormal><b>All year</b> and at night</p>';

  await take(page, 'Fares below apply');
  await inBlock(page, 'end');
  await paste(page, bold, 'All year\nand at night');
  await page.keyboard.type(', too.', { delay: 20 });
  expect(await blockText(page)).toMatch(/free all year\.All year and at night, too\.$/);
  await cleaned(1);
  await expect(draft(page).locator('p', { hasText: 'Fares below apply' }).locator('b')).toHaveText('All year'); // as the site writes it
  await page.keyboard.type(' Ask us.', { delay: 20 }); // the cursor is where it was
  expect(await blockText(page)).toMatch(/free all year\.All year and at night, too\. Ask us\.$/);
  await kept(page);

  await take(page, 'Dogs are welcome');
  await inBlock(page, 'end');
  await paste(page, bold, 'All year\nand at night');
  await point(page, '£58.00'); // left before the answer
  await soon(() => blockText(page)).toBe('£58.00');
  await cleaned(2);
  await expect(page.getByText('It stands there as plain words')).toBeVisible();
  await expect(draft(page).getByText('purser’s desk.All year and at night')).toBeVisible();

  await inBlock(page, 'end'); // a part by itself
  await paste(page, '<b>and</b> more', 'and more');
  await page.keyboard.type('!', { delay: 20 });
  await cleaned(3);
  await expect(draft(page).locator('td', { hasText: '£58.00' }).locator('b')).toHaveText('and');
  expect(await blockText(page)).toBe('£58.00and more!');
  await inBlock(page, 'end');
  await page.waitForTimeout(600); // what is typed within half a second is undone as one
  await paste(page, '<i>once</i>', 'once');
  await cleaned(4);
  await expect(field(page).locator('em, i')).toHaveText('once');
  await page.keyboard.press('Control+z');
  await soon(() => blockText(page)).toBe('£58.00and more!');
  await paste(page, '<i>once</i>', 'once');
  await page.keyboard.press('Control+z'); // before the answer
  await cleaned(5);
  await soon(() => blockText(page)).toBe('£58.00and more!');

  dead = true;
  await paste(page, '<i>once</i>', 'once');
  await expect(page.getByText('What you pasted stands as plain words.')).toBeVisible();
  expect(await blockText(page)).toBe('£58.00and more!once');
  await kept(page);
  const { thread }: { thread: { id: number }[] } = await (await page.request.get(`/api/requests/${number}`)).json();
  expect(thread).toHaveLength(3);
  await page.getByRole('button', { name: /Make proof/ }).click();
  await expect(page.getByRole('region', { name: 'Checks' })).toContainText('Nothing else on the page changes');
});

test('a table that is pasted into words stands below them as a table of the site; among other words it stands in lines until it is asked for', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'The groups, as in the sheet.');
  await openBench(page, number, '/fares.html');
  const tables = draft(page).locator('main table');
  const had = await tables.count();
  const look = await tables.first().getAttribute('class');
  const sheet = '<table><tr><th>Group</th><th>Single</th></tr><tr><td>Twelve</td><td>£5.10</td></tr></table>';
  await take(page, 'Dogs are welcome');
  const dogs = await blockText(page);
  await inBlock(page, 'end');
  await paste(page, `<meta charset="utf-8">${sheet}`, 'Group\tSingle\nTwelve\t£5.10');
  await expect(tables).toHaveCount(had + 1);
  const made = tables.filter({ hasText: 'Twelve' });
  await expect(made.locator('tr')).toHaveCount(2);
  expect(await made.getAttribute('class')).toBe(look);
  await expect(page.getByRole('region', { name: margin }).getByRole('article')).toBeVisible(); // it is in hand
  await take(page, 'Dogs are welcome');
  expect(await blockText(page)).toBe(dogs);
  await inBlock(page, 'end');
  await paste(page, `<p>So many:</p>${sheet.replace('Twelve', 'Thirty')}`, 'So many:\nGroup\tSingle\nThirty\t£5.10');
  await expect(page.getByText('A table was among it')).toBeVisible();
  await axe(page);
  await page.getByRole('button', { name: 'Put it below as a table' }).click();
  await expect(tables.filter({ hasText: 'Thirty' })).toHaveCount(1);
  await expect(draft(page).getByText('So many:')).toHaveCount(1);
});
