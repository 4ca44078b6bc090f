import { expect, type Page, test } from '@playwright/test';
import { blockText, draft, field, inBlock, kept, newRequest, openBench, signIn, take, token } from '../world';

type Bench = { runs: { blocks: { part: string; form?: string }[] }[]; parts: { id: string; text: string }[] };

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

const late = (page: Page, ms: number) =>
  page.route('**/api/requests/*/bench/*', async (route) => {
    if (route.request().method() !== 'POST') return route.fallback();
    await new Promise((later) => setTimeout(later, ms));
    return route.fallback();
  });

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

/** How the run with some words reads on the draft. */
async function reads(page: Page, path: string, words: string): Promise<string[]> {
  const bench: Bench = await (await page.request.get(path)).json();
  const of = new Map(bench.parts.map((p) => [p.id, p.text]));
  const run = bench.runs.find((r) => r.blocks.some((b) => of.get(b.part)?.includes(words)))!;
  return run.blocks.map((b) => `${b.form ?? ''} ${of.get(b.part) ?? ''}`.trim());
}

const speeds = [20, 60, 150]; // ms a key
for (const [n, [what, script]] of Object.entries(scripts).entries()) {
  test(`no key is lost: ${what}, at ${n === 0 || process.env.MENDRY_SPEEDS ? 'three speeds' : 'a speed each'}, beside five servers`, async ({ page }) => {
    test.setTimeout(600_000);
    await signIn(page);
    const number = await newRequest(page, 'Bramble Row Seed Library', 'Say more about drying, please.');
    await openBench(page, number, '/articles/keeping-seed');
    const url = page.url();
    const path = url.replace(/^https?:\/\/[^/]+/, '/api');
    const was = await reads(page, path, script.at);
    for (const [i, [server, does]] of Object.entries(servers).entries()) {
      for (const delay of n === 0 || process.env.MENDRY_SPEEDS ? speeds : [speeds[i % speeds.length]!]) {
        await test.step(`${delay} ms a key, a server that ${server}`, async () => {
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
          await expect.poll(() => reads(page, path, script.at)).toEqual(script.reads(was));
          const typed = script.reads(was).filter((s) => !was.includes(s)).map((s) => s.slice(s.indexOf(' ') + 1));
          for (const words of typed) {
            await expect(field(page)).toContainText(words);
            await expect(draft(page).getByText(words, { exact: true })).toBeVisible();
          }
          await page.unrouteAll({ behavior: 'wait' });
          await page.reload();
          await expect(draft(page).getByText(typed[0]!, { exact: true })).toBeVisible();
          const changes: { id: number }[] = (await (await page.request.get(path)).json()).changes;
          for (const c of changes.reverse()) {
            const gone = await page.request.delete(`/api/requests/${number}/changes/${c.id}`, { headers: await token(page) });
            expect(gone.ok(), await gone.text()).toBe(true);
          }
          expect(await reads(page, path, script.at)).toEqual(was);
        });
      }
    }
  });
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
  const path = page.url().replace(/^https?:\/\/[^/]+/, '/api');
  const was = await reads(page, path, 'Mice dig up');
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
  const moved = await reads(page, path, 'Mice dig up');
  expect(moved.findIndex((s) => s.includes('Mice'))).toBeLessThan(moved.findIndex((s) => s.includes('Autumn beans')));
  expect(moved.toSorted()).toEqual(was.toSorted());
  await take(page, 'Mice dig up');
  await inBlock(page, 'end');
  await page.keyboard.press('Alt+ArrowDown');
  await kept(page);
  await expect.poll(() => reads(page, path, 'Mice dig up')).toEqual(was);
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

test('a click while the page is renewed takes what was clicked in hand', async ({ page }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Tidy the steps up a little.');
  await openBench(page, number, '/articles/keeping-seed');
  const path = page.url().replace(/^https?:\/\/[^/]+/, '/api');
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
    await expect.poll(async () => (await reads(page, path, 'Dry it on paper')).join()).toMatch(new RegExp(`${to}[^,]* ${n}(,|$)`));
  }
});
