import type { Page } from '@playwright/test';
import { axe, beginAgain, benchOf, blockText, draft, expect, field, fillForm, inBlock, keepNothing, kept, late, newRequest, openBench, point, runOf, signIn, signInElsewhere, soon, take, test } from '../world';

/** What a server does that is asked to keep something. */
const servers: Record<string, (page: Page) => Promise<void>> = {
  'answers at once': async () => {},
  'answers after 400 ms': async (page) => void (await late(page, 400)),
  'answers after 3 s': async (page) => void (await late(page, 3000)),
  'fails once': async (page) => {
    let failed = false;
    await page.route('**/api/requests/*/bench/*', (route) => {
      if (failed || route.request().method() !== 'POST') return route.fallback();
      failed = true;
      return route.fulfill({ status: 503, contentType: 'application/json', body: '{"say":"Mendry is busy."}' });
    });
  },
  'is away, and an answer is lost': async (page) => {
    let asked = 0;
    await page.route('**/api/requests/*/bench/*', async (route) => {
      if (route.request().method() !== 'POST' || ++asked > 3) return route.fallback();
      if (asked === 2) await route.fetch(); // it was kept, and nobody hears of it
      return route.abort('connectionrefused');
    });
  },
};

/** What is typed, and how the run reads then. */
const scripts = {
  'paragraphs split and joined': {
    at: 'Seed keeps when it is dry',
    keys: [
      'Enter', ...'mind the gap, nobody knows', 'Enter', ...'why we wait', 'Enter', ...'until March', 'Home', 'Backspace', ...' all ', 'End', ...'!',
    ],
    reads: (was: string[]) => was.flatMap((s) => (s.startsWith('p Seed keeps') ? [s, 'p mind the gap, nobody knows', 'p why we wait all until March!'] : [s])),
  },
  'a list that goes on and ends': {
    at: 'Write the year on it',
    keys: ['Enter', ...'look up the pod', 'Enter', ...'wash it well', 'Enter', 'Enter', ...'u and m are letters, too'],
    reads: (was: string[]) =>
      was.flatMap((s) => (s.includes('Write the year on it') ? [s, 'numbers look up the pod', 'numbers wash it well', 'p u and m are letters, too'] : [s])),
  },
};

const speeds = [20, 60, 150]; // ms a key
/** At which of them the nth script is typed beside the ith server: the first at all beside one that answers at once, else at one each. */
const speedsOf = (n: number, i: number) =>
  process.env.MENDRY_LONG ? speeds : n === 0 && i === 0 ? speeds : [speeds[(n + i) % speeds.length]!];
for (const [n, [what, script]] of Object.entries(scripts).entries()) {
  for (const [i, [server, does]] of Object.entries(servers).entries()) {
    test(`no key is lost: ${what}, at ${speedsOf(n, i).join(', ')} ms a key, beside a server that ${server}`, async ({ page }) => {
      await signIn(page);
      const number = await newRequest(page, 'Bramble Row Seed Library', 'Say more about drying, please.');
      await openBench(page, number, '/articles/keeping-seed');
      const url = page.url();
      const was = await runOf(page, script.at);
      for (const delay of speedsOf(n, i)) {
        await test.step(`${delay} ms a key`, async () => {
          await page.goto(url);
          await take(page, script.at);
          await inBlock(page, 'end');
          expect(await blockText(page)).toContain(script.at);
          await does(page);
          for (const key of script.keys) {
            await page.keyboard.press(key);
            await page.waitForTimeout(delay);
          }
          await kept(page);
          expect(page.url()).toContain(url);
          await soon(() => runOf(page, script.at)).toEqual(script.reads(was));
          const typed = script.reads(was).filter((s) => !was.includes(s)).map((s) => s.slice(s.indexOf(' ') + 1));
          for (const words of typed) {
            await expect(field(page)).toContainText(words);
            await expect(draft(page).getByText(words, { exact: true })).toHaveCount(1);
          }
          await page.unrouteAll({ behavior: 'wait' });
          await page.reload();
          await expect(draft(page).getByText(typed[0]!, { exact: true })).toBeVisible();
          await beginAgain(page, number);
          expect(await runOf(page, script.at)).toEqual(was);
        });
      }
    });
  }
}

test('two tabs: one writes, the other follows, and takes its turn', async ({ page, context }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Say that it has to be warm, too.');
  await openBench(page, number, '/articles/keeping-seed');
  const other = await context.newPage();
  await other.goto(page.url());
  const follows = (tab: Page) => expect(tab.getByText('Another tab has this page in hand and writes.')).toBeVisible();
  await follows(other);
  await take(page, 'Write the year on it');
  await inBlock(page, 'end');
  await page.keyboard.type(', and the month');
  await kept(page);
  await expect(draft(other).getByText('Write the year on it, and the month')).toBeVisible();
  await other.getByRole('button', { name: 'Write here instead' }).click();
  await follows(page);
  await take(other, 'Write the year on it, and the month');
  await inBlock(other, 'end');
  await other.keyboard.type(' too');
  await kept(other);
  await expect(draft(page).getByText('Write the year on it, and the month too')).toBeVisible();
  await other.close();
  await take(page, 'Write the year on it, and the month too');
});

test('a block is dragged by its grip past another one, and back by the keys', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'The mice should come first.');
  await openBench(page, number, '/articles/broad-beans');
  const was = await runOf(page, 'Mice dig up');
  await take(page, 'Mice dig up');
  const grips = page.locator('.grip');
  const block = (words: string) => field(page).locator('p, h2, li').filter({ hasText: words }).first();
  const at = async (words: string) => (await block(words).boundingBox())!;
  const mice = await at('Mice dig up');
  const boxes = await grips.evaluateAll((all) => all.map((g) => g.getBoundingClientRect().top));
  const own = boxes.findIndex((top) => Math.abs(top - mice.y) < mice.height);
  expect(own, 'the grip beside the mice').toBeGreaterThanOrEqual(0);
  await grips.nth(own).dragTo(block('Autumn beans'), { targetPosition: { x: 20, y: 1 } });
  await kept(page);
  const moved = await runOf(page, 'Mice dig up');
  expect(moved.findIndex((s) => s.includes('Mice'))).toBeLessThan(moved.findIndex((s) => s.includes('Autumn beans')));
  expect(moved.toSorted()).toEqual(was.toSorted());
  await take(page, 'Mice dig up');
  await inBlock(page, 'end');
  await page.keyboard.press('Alt+ArrowDown');
  await kept(page);
  await soon(() => runOf(page, 'Mice dig up')).toEqual(was);
  await expect(page.getByText('Nothing is changed on this page yet.').or(page.getByText('The thread is empty'))).toBeVisible();
});

test('a paragraph that is emptied is taken out when the cursor leaves it', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'The second step can go.');
  await openBench(page, number, '/articles/keeping-seed');
  await take(page, 'Put it in a jar');
  await inBlock(page, 'all');
  await page.keyboard.press('Backspace');
  await kept(page);
  await page.getByRole('heading', { name: /^Bench/ }).evaluate(() => (document.activeElement as HTMLElement).blur());
  await expect(page.getByRole('list', { name: 'The thread of changes' })).toContainText('is taken out');
  await expect(draft(page).getByText('Put it in a jar')).toHaveCount(0);
  await expect(draft(page).getByText('Dry it on paper')).toBeVisible();
});

test('a run that is put aside for the list of parts goes on as it was typed', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Turn the seed while it dries.');
  await openBench(page, number, '/articles/keeping-seed');
  const was = await runOf(page, 'Dry it on paper');
  await take(page, 'Dry it on paper');
  await inBlock(page, 'end');
  await page.keyboard.type(' slowly');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Turn it');
  for (const when of ['at once', 'when it is kept']) {
    if (when !== 'at once') await kept(page);
    await page.getByRole('button', { name: /^\d+ parts$/ }).click();
    const list = page.getByRole('group', { name: 'Parts of the page' });
    await list.getByRole('listitem').first().hover(); // from here on the list stands still
    await list.getByRole('button', { name: /^“Put it in a jar/ }).click();
    await soon(() => blockText(page)).toContain('Put it in a jar');
    await expect(field(page)).toContainText('Dry it on paper slowlyTurn itPut it in a jar');
    await inBlock(page, 'end');
    await page.keyboard.type('!');
  }
  await kept(page);
  await soon(() => runOf(page, 'Dry it on paper')).toEqual(
    was.flatMap((l) => (l.includes('Dry it') ? [`${l} slowly`, 'numbers Turn it'] : l.includes('in a jar') ? [`${l}!!`] : [l])),
  );
});

test('what is pressed in the list of parts is what it says, though the parts get other names meanwhile', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Turn the seed while it dries, and once more.');
  await openBench(page, number, '/articles/keeping-seed');
  const list = page.getByRole('group', { name: 'Parts of the page' });
  const jar = list.getByRole('button', { name: /^“Put it in a jar/ });
  let letKeep = () => {};
  let may: Promise<void> | undefined;
  await page.route('**/api/requests/*/bench/*', async (route) => {
    if (route.request().method() === 'POST') await may;
    return route.fallback();
  });
  const takes = {
    'with the mouse': async () => {
      await jar.hover();
      await page.mouse.down();
      letKeep();
      await kept(page);
      await page.mouse.up();
    },
    'with the keyboard': async () => {
      await jar.focus();
      letKeep();
      await kept(page);
      await page.keyboard.press('Enter');
    },
  };
  for (const [how, takeJar] of Object.entries(takes)) {
    await take(page, 'Dry it on paper');
    await inBlock(page, 'end');
    may = new Promise((then) => (letKeep = then));
    await page.keyboard.press('Enter');
    await page.keyboard.type(`Turn it ${how}`); // a new part, in the place that the jar's had
    await page.getByRole('button', { name: /^\d+ parts$/ }).click();
    await expect(page.getByText('Keeping…')).toBeVisible();
    await takeJar();
    await soon(() => blockText(page)).toContain('Put it in a jar');
    await page.getByRole('button', { name: /^\d+ parts$/ }).click();
    await expect(list.getByRole('button', { name: `“Turn it ${how}”` })).toBeVisible();
    await page.keyboard.press('Escape');
  }
});

test('a field that is opened again before its words are kept begins with them', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'The fares again.');
  await openBench(page, number, '/fares.html');
  await late(page, 2500);
  await point(page, '£58.00');
  await soon(() => blockText(page)).toBe('£58.00');
  await inBlock(page, 'end');
  await page.keyboard.type(' each', { delay: 20 });
  await point(page, 'Passes');
  await soon(() => blockText(page)).toBe('Passes');
  await point(page, '£58.00 each'); // the page shows what is typed
  await expect(field(page)).toHaveText('£58.00 each');
  await inBlock(page, 'end');
  await page.keyboard.type(' way', { delay: 20 });

  await take(page, 'is good for a year');
  await inBlock(page, 'end');
  await page.keyboard.type(' Really.', { delay: 20 });
  await page.keyboard.press('Enter');
  await page.keyboard.type('All of it.', { delay: 20 });
  await point(page, '£58.00 each way');
  await soon(() => blockText(page)).toBe('£58.00 each way');
  await take(page, 'is good for a year');
  await expect(field(page)).toContainText('Really.All of it.');
  await inBlock(page, 'end');
  await page.keyboard.type(' Yes.', { delay: 20 });

  await field(page).press('Escape');
  await page.getByRole('button', { name: 'Put the part down' }).click();
  await page.getByText('Page facts').click();
  const title = page.getByLabel('Title', { exact: false }).first();
  const had = await title.inputValue();
  await title.fill(`${had} 2027`);
  await point(page, 'Passes');
  await soon(() => blockText(page)).toBe('Passes');
  await page.getByRole('button', { name: 'Put the part down' }).click();
  await page.getByText('Page facts').click();
  await expect(title).toHaveValue(`${had} 2027`);
  await kept(page);
  await expect(draft(page).getByText('£58.00 each way')).toBeVisible();
  await expect(draft(page).getByText('Really. Yes.')).toBeVisible();
  await expect(draft(page).getByText('All of it.', { exact: true })).toHaveCount(1);
  expect((await benchOf(page)).facts.title).toBe(`${had} 2027`);
});

test('a browser that keeps nothing loses no words while the page is open, and that is said', async ({ page }) => {
  await keepNothing(page);
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'The year, and the month.');
  await openBench(page, number, '/articles/keeping-seed');
  const was = await runOf(page, 'Write the year on it');
  let away = true;
  await page.route('**/api/requests/*/bench/*', (route) => (away && route.request().method() === 'POST' ? route.abort('connectionrefused') : route.fallback()));
  await take(page, 'Write the year on it');
  await inBlock(page, 'end');
  await page.keyboard.type(' and the month', { delay: 20 });
  await expect(page.getByText('Leave this page open')).toBeVisible();
  const asked = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  const question = await asked;
  expect(question.type()).toBe('beforeunload');
  await question.dismiss();
  away = false;
  await kept(page);
  await soon(() => runOf(page, 'Write the year on it')).toEqual(was.map((l) => (l.includes('Write the year') ? `${l} and the month` : l)));
});

test('words that meet the end of their session are kept when one has signed in again, and for nobody else', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'The year, and more of it.');
  await openBench(page, number, '/articles/keeping-seed');
  const url = page.url();
  const was = await runOf(page, 'Write the year on it');
  await take(page, 'Write the year on it');
  await inBlock(page, 'end');
  await signInElsewhere(page);
  await page.keyboard.type(' in ink', { delay: 20 });
  await kept(page);
  await page.keyboard.type(', please', { delay: 20 });
  await page.context().clearCookies();
  await fillForm(page, 'ruth');
  expect(page.url()).toBe(url);
  await expect(draft(page).getByText('Write the year on it in ink', { exact: true })).toBeVisible();
  await signInElsewhere(page);
  await page.goto(url);
  await expect(draft(page).getByText('Write the year on it in ink, please')).toBeVisible();
  await kept(page);
  await soon(() => runOf(page, 'Write the year on it')).toEqual(was.map((l) => (l.includes('Write the year') ? `${l} in ink, please` : l)));
  const { thread }: { thread: { made_by: string }[] } = await (await page.request.get(`/api/requests/${number}`)).json();
  expect(thread.map((c) => c.made_by)).toEqual(['Ines Oakley']);
});

test('the words of a link stay, whose paragraph is taken in hand while they are still on their way', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'Say it better, please.');
  await openBench(page, number, '/contact.html');
  await page.getByRole('button', { name: 'Links of this page' }).click();
  await page.getByRole('button', { name: /fine Alder/ }).click();
  await expect(page.getByLabel('Leads to')).toHaveValue('/boats/alder.html');
  await late(page, 900);
  await inBlock(page, 'all');
  await page.keyboard.insertText('The good boat Alder');
  await draft(page).getByText('is ten minutes on foot').click({ position: { x: 3, y: 8 } });
  await soon(() => blockText(page)).toContain('is ten minutes');
  await inBlock(page, 'start'); // and in the same words, before the answer
  await page.keyboard.type('Our ', { delay: 20 });
  await expect(field(page)).toContainText('The good boat Alder lies'); // it has come, and the editor shows it
  await page.keyboard.type('own ', { delay: 20 }); // the cursor is where it was
  await draft(page).getByText('Call 01632 960171, every day').click();
  await soon(() => blockText(page)).toContain('Call 01632');
  await inBlock(page, 'end');
  await page.keyboard.type(' Ring long.', { delay: 20 });
  await kept(page);
  const thread = page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');
  await expect(thread).toHaveCount(3);
  for (const text of ['The good boat Alder', 'Our own Penny Wharf is ten', 'Ring long.']) await expect(draft(page).getByText(text)).toBeVisible();
});

test('a click on a link among other words takes up all of them, with the cursor in the link; the link alone is asked for', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'Say it better, please.');
  await openBench(page, number, '/contact.html');
  const link = draft(page).locator('p', { hasText: 'behind the crane' }).locator('a');
  await link.click();
  await soon(() => blockText(page)).toMatch(/The Alder lies/);
  const was = await runOf(page, 'The Alder lies');
  await page.keyboard.type('Oak', { delay: 20 });
  await expect(link).toContainText('Oak'); // where it was clicked
  for (let n = 0; n < 3; n++) await page.keyboard.press('Backspace');
  await inBlock(page, 'end');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Ask at the lock.');
  await kept(page);
  await soon(() => runOf(page, 'Ask at the lock.')).toEqual(was.flatMap((l) => (l.includes('The Alder lies') ? [l, 'p Ask at the lock.'] : [l])));
  await link.click();
  await expect(page.getByRole('region', { name: 'The margin' })).toContainText('“Alder” leads to /boats/alder.html');
  await page.getByRole('button', { name: 'Only the link' }).click();
  await expect(page.getByLabel('Leads to')).toHaveValue('/boats/alder.html');
  await soon(() => blockText(page)).toBe('Alder');
  await axe(page);
});

test('a click in a cell sets the cursor there and chooses nothing, and again where it is clicked next', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Larkspur Ferries', 'Say which adults, please.');
  await openBench(page, number, '/fares.html');
  const cell = draft(page).getByRole('cell', { name: 'Adult' }).first();
  const box = (await cell.boundingBox())!;
  await cell.click({ position: { x: box.width - 3, y: box.height / 2 } }); // behind the word
  await soon(() => blockText(page)).toBe('Adult');
  await page.keyboard.type('s', { delay: 20 });
  await expect(cell).toHaveText('Adults');
  await kept(page);
  const left = await cell.evaluate((el) => {
    const r = document.createRange();
    r.selectNodeContents(el);
    return r.getBoundingClientRect().left - el.getBoundingClientRect().left;
  });
  await cell.click({ position: { x: left + 1, y: box.height / 2 } });
  await page.keyboard.type('All a', { delay: 20 });
  await page.keyboard.press('Delete');
  await expect(cell).toHaveText('All adults');
  await kept(page);
});

test('what was typed in one run stands on the page while another one is typed in, and when the first is taken up again', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Osprey Hall Climbing', 'A word more in two posts.');
  await openBench(page, number, '/courses/');
  const posts = ['in the old dye tub.', 'no one watching.'];
  for (const round of [1, 2])
    for (const post of posts) {
      await take(page, post);
      await inBlock(page, 'end');
      await page.keyboard.type(` ${round}.`, { delay: 20 });
      const seen = posts.map((p) => `${p}${round === 2 ? ' 1.' : ''}${p === posts[0] || post === p ? ` ${round}.` : ''}`);
      for (const words of seen) await expect(draft(page).getByText(words)).toHaveCount(1);
      await kept(page);
    }
});
