import { beginAgain, blockText, draft, expect, field, hold, inBlock, kept, late, newRequest, openBench, runOf, signIn, slowFrames, soon, tabTo, take, test } from '../world';

test('a click while the page is renewed takes what was clicked in hand', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Tidy the steps up a little.');
  await openBench(page, number, '/articles/keeping-seed');
  await take(page, 'Seed keeps when it is dry'); // the first click on a fresh bench
  let wait = 0; // ms that the page in the frame takes
  await page.route(/mendry-load=/, async (route) => {
    await new Promise((later) => setTimeout(later, wait));
    return route.continue().catch(() => {}); // a page that is left is not asked for any more
  });
  const steps = ['Dry it on paper', 'Put it in a jar', 'Write the year on it'];
  for (let n = 0; n < 12; n++) {
    wait = [0, 40, 300, 1200][n % 4]!;
    const [from, to] = [steps[n % 3]!, steps[(n + 1) % 3]!];
    await take(page, from);
    await inBlock(page, 'end');
    await page.keyboard.press('Enter'); // a new item: the page is loaded again, and the steps below have other names
    await page.keyboard.type(`n${n}`);
    await page.waitForTimeout(350 + 37 * n); // about when it is kept
    await take(page, to);
    await inBlock(page, 'end');
    await page.keyboard.type(` ${n}`);
    await kept(page);
    await soon(async () => (await runOf(page, 'Dry it on paper')).join()).toMatch(new RegExp(`${to}[^,]* ${n}(,|$)`));
  }
});

test('of two things taken in hand while the page is renewed the later one stays, however long the page takes', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Dogs first, and then the groups.');
  await openBench(page, number, '/fares.html');
  const margin = page.getByRole('region', { name: 'The margin' });
  const inHand = (name: RegExp) => expect(margin.getByRole('article').getByRole('heading', { name })).toBeVisible();
  const passes = draft(page).getByRole('heading', { name: 'Passes', exact: true });
  await take(page, 'is good for a year');
  await margin.getByRole('button', { name: /^the section/ }).click();
  const letGo = await hold(page, /mendry-load=/);
  await page.getByRole('button', { name: 'Copy below' }).click();
  await expect(page.getByRole('list', { name: 'The thread of changes' })).toContainText('a copy stands after');
  await draft(page).getByText('Dogs are welcome').click(); // what it is now is told by the page that comes
  await expect(margin.getByRole('article')).toBeVisible(); // the copy is in hand
  await page.getByRole('button', { name: /^\d+ parts$/ }).click();
  await margin.getByRole('button', { name: /From twelve people on/ }).click();
  await inHand(/^“From twelve people on/);
  letGo();
  await expect(passes).toHaveCount(2);
  await page.waitForTimeout(500); // or the click is answered
  await inHand(/^“From twelve people on/);

  await margin.getByRole('button', { name: 'Passes kept' }).click();
  await page.route(/changes/, async (route) => {
    await new Promise((on) => setTimeout(on, 1500));
    return route.continue();
  });
  await page.getByRole('button', { name: 'Undo this change' }).click();
  await draft(page).getByText('Dogs are welcome').click(); // before it is undone
  await expect(passes).toHaveCount(1);
  await inHand(/^“Dogs are welcome/);
});

test('a page that waits for a picture without end takes its turn all the same', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'A word more of the bay.');
  await hold(page, /\.(jpe?g|png|webp)(\?|$)/);
  await openBench(page, number, '/islands/heron.html');
  await take(page, 'Open from the first boat');
  await inBlock(page, 'end');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Bring a lantern.', { delay: 20 });
  await kept(page);
  const made = draft(page).locator('[data-mendry]', { hasText: /^Bring a lantern\.$/ }); // by the server, not while it was typed
  await expect(made).toBeInViewport();
});

test('what is clicked is taken in hand, where the page shows already what is kept and not answered yet', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'A word more about the fares.');
  await openBench(page, number, '/fares.html');
  const margin = page.getByRole('region', { name: 'The margin' });
  let letAnswer: () => void = () => {};
  const answered = new Promise<void>((on) => (letAnswer = on));
  await take(page, 'is good for a year');
  await margin.getByRole('button', { name: /^the section/ }).click();
  const letPage = await hold(page, /mendry-load=/);
  await page.getByRole('button', { name: 'Copy below' }).click(); // the page is loaded anew, and does not come
  await expect(page.getByRole('list', { name: 'The thread of changes' })).toContainText('a copy stands after');
  await expect(margin.getByRole('article')).toBeVisible(); // the copy is in hand
  await page.getByRole('button', { name: /^\d+ parts$/ }).click();
  await margin.getByRole('button', { name: /^Opening words|Fares below apply/ }).click();
  await inBlock(page, 'end');
  let arrived = false;
  await page.route('**/api/requests/*/bench/*', async (route) => {
    if (route.request().method() !== 'POST') return route.fallback();
    const response = await route.fetch();
    arrived = true;
    await answered;
    return route.fulfill({ response });
  });
  await page.keyboard.press('Enter');
  await page.keyboard.type('Nobody pays twice.');
  await soon(() => arrived).toBe(true);
  letPage(); // with a paragraph more, of which the bench knows nothing yet
  await expect(draft(page).getByText('Nobody pays twice.')).toHaveCount(1);
  await expect(draft(page).getByText('is good for a year')).toHaveCount(2);
  await draft(page).getByText('Dogs are welcome').click();
  await page.waitForTimeout(500);
  letAnswer();
  await soon(() => blockText(page)).toMatch(/^Dogs are welcome/);
  await inBlock(page, 'end');
  await page.keyboard.type(' Cats, too.');
  await expect(draft(page).getByText('desk. Cats, too.')).toBeVisible();
});

test('what is typed before the program of the field is there stands in it, and acts as nothing', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Say a word more of drying.');
  const letGo = await hold(page, /assets\/(RunOf|WordsEditor)-/);
  await openBench(page, number, '/articles/keeping-seed');
  const url = page.url();
  const was = await runOf(page, 'Dry it on paper');
  await draft(page).getByText('Dry it on paper').click(); // behind the words
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Backspace');
  await page.keyboard.type('mux', { delay: 20 }); // each of which acts where nothing is in hand
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Enter');
  await page.keyboard.type('lup', { delay: 20 });
  for (const keys of ['Home', '(', 'Shift+ArrowRight', 'L', 'End', ')', 'ArrowLeft', 'Delete', '.', 'Control+Home', '*', 'Control+End', '+'])
    await page.keyboard.press(keys);
  letGo();
  await soon(() => blockText(page)).toMatch(/\+$/);
  await page.keyboard.type('!');
  await kept(page);
  const reads = was.flatMap((l) => (l === 'numbers Dry it on paper' ? [`${l.slice(0, -2)}mu`, 'numbers (Lup.'] : [l]));
  reads[0] = reads[0]!.replace(/ /, ' *');
  await soon(() => runOf(page, '(Lup')).toEqual([...reads.slice(0, -1), `${reads.at(-1)}+!`]);
  expect(page.url()).toBe(url);
});

test('what is typed after a click that waits, or for something that is just being put there, stands where it was meant or is said', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'A new word on groups.');
  await openBench(page, number, '/fares.html');
  const margin = page.getByRole('region', { name: 'The margin' });
  const renewed = async (act: string) => {
    const letGo = await hold(page, /mendry-load=/);
    const asked = page.waitForRequest(/mendry-load=/);
    await page.getByRole('button', { name: act, exact: true }).click();
    await asked;
    await expect(margin.getByRole('article')).toBeVisible(); // what was made is in hand
    return letGo;
  };
  await take(page, 'is good for a year');
  await margin.getByRole('button', { name: /^the section/ }).click();
  let letGo = await renewed('Copy below');
  await draft(page).getByText('Dogs are welcome').click({ position: { x: 2, y: 8 } }); // on a page whose parts have other names now
  await page.keyboard.type('Mum says: ', { delay: 20 });
  letGo();
  await soon(() => blockText(page)).toMatch(/^Mum says: Dogs are welcome/);
  await kept(page);

  await margin.getByRole('button', { name: /^the section/ }).click();
  letGo = await renewed('Copy below');
  await draft(page).getByText('is good for a year').first().click();
  await page.keyboard.type('lost', { delay: 20 });
  await page.getByRole('button', { name: /^\d+ parts$/ }).click();
  await margin.getByRole('button', { name: /From twelve people on/ }).first().click();
  await expect(page.getByText('“lost” was typed before there was a field for it.')).toBeVisible();
  letGo();
  await soon(() => blockText(page)).toMatch(/^From twelve people on(?!.*lost)/);

  await margin.getByRole('button', { name: /^the section/ }).click();
  await late(page, 1500);
  await page.getByRole('button', { name: 'Words at its end' }).click();
  await page.keyboard.type('Groups pay less.', { delay: 20 });
  await soon(() => blockText(page)).toBe('Groups pay less.');
  await page.keyboard.type(' Much.');
  await kept(page);
  await expect(draft(page).getByText('Groups pay less. Much.', { exact: true })).toHaveCount(1);

  await draft(page).locator('footer a').click(); // on all pages, or on this one: it is asked
  await page.getByRole('button', { name: /^all \d+ pages$/ }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('01632 960199', { delay: 20 });
  await expect(field(page)).toHaveText('01632 960199');
  await kept(page);
  await beginAgain(page, number);
});

test('what is typed after a click of which the page has not told yet acts as nothing; without a click a letter acts', async ({ page }) => {
  await signIn(page);
  await slowFrames(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Dogs are welcome, and cats.');
  await openBench(page, number, '/fares.html');
  await expect(page.getByRole('region', { name: 'The margin' }).getByText('Page header')).toBeVisible(); // the page has told its places
  const list = page.getByRole('button', { name: /^\d+ parts$/ });
  const url = page.url();
  const dogs = draft(page).getByText('Dogs are welcome');
  await dogs.hover();
  await page.keyboard.press('p'); // nothing was clicked
  await expect(list).toHaveAttribute('aria-expanded', 'true');
  await list.click();
  await expect(list).toHaveAttribute('aria-expanded', 'false');
  await page.waitForTimeout(1100); // a letter within a second of another is typing that went astray
  await dogs.click({ position: { x: 2, y: 8 } });
  await page.keyboard.press('m'); // makes a proof where nothing is in hand
  await page.keyboard.type('um: ');
  await soon(() => blockText(page)).toMatch(/^mum: Dogs are welcome/);
  await kept(page);
  expect(page.url()).toBe(url);
  // A button that has the focus is pressed once.
  await page.keyboard.press('Escape');
  await list.focus();
  await dogs.hover();
  await page.keyboard.press('Enter');
  await expect(list).toHaveAttribute('aria-expanded', 'true');
  // What a letter opens gets what is typed behind it.
  await list.click();
  await expect(list).toHaveAttribute('aria-expanded', 'false');
  await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  await page.waitForTimeout(1100);
  await dogs.hover();
  await page.keyboard.press('f');
  await page.keyboard.type('tidf');
  await page.keyboard.press('Backspace');
  await page.keyboard.type('es');
  await expect(page.getByPlaceholder('Find words on any page of any site')).toHaveValue('tides');
  // So does what a button opens.
  await page.keyboard.press('Escape');
  await dogs.click();
  await expect(field(page)).toBeFocused();
  await tabTo(page, page.getByRole('button', { name: 'File below' })); // the pointer is still over the page
  await page.keyboard.press('Enter');
  await page.keyboard.type('The rules');
  await expect(page.getByRole('region', { name: 'The margin' }).getByRole('textbox').first()).toHaveValue('The rules');
});

test('what is typed after a click of which the page has not told yet goes where it was clicked, also while a field has the focus', async ({ page }) => {
  await signIn(page);
  await slowFrames(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Two words more, please.');
  await openBench(page, number, '/groups.html');
  const [first, second] = [draft(page).locator('main p').first(), draft(page).locator('main p').nth(1)];
  const [was, other] = [await first.innerText(), await second.innerText()];
  const at = { position: { x: 2, y: 8 } }; // before the first word
  await take(page, was);
  await inBlock(page, 'end');
  await page.keyboard.type(' So.');
  await page.waitForTimeout(300); // nobody clicks and comes back to the keys sooner
  await first.click(at);
  await page.keyboard.type('Now: ', { delay: 20 });
  await soon(() => blockText(page)).toBe(`Now: ${was} So.`);
  // The pointer is over the page, and nothing is clicked: keys do what they do.
  await page.waitForTimeout(300);
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Shift+Enter');
  await page.keyboard.type('x');
  await soon(() => blockText(page)).toBe(`Now:x${was} So.`); // a line in the same block
  await page.waitForTimeout(300);
  await second.click(at);
  await page.keyboard.type('Also: ', { delay: 20 });
  await soon(() => blockText(page)).toBe(`Also: ${other}`);
  await kept(page);
});
