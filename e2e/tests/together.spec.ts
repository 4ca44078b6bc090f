import type { Browser, Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { axe, blockText, draft, expect, field, inBlock, kept, newRequest, openBench, ports, signIn, soon, take, test } from '../world';
import { shifted } from '../demo';

/** Somebody else at a machine of their own, with the same page on the bench. */
async function beside(browser: Browser, page: Page, name: string): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await shifted(context);
  const other = await context.newPage();
  await signIn(other, name);
  await other.goto(page.url());
  await expect(draft(other).locator('body')).toBeVisible();
  return other;
}

/** A page of a new request, before two people. */
async function two(browser: Browser, page: Page, client: string, address: string): Promise<Page> {
  await signIn(page);
  const number = await newRequest(page, client, 'Please look through this page, both of you.');
  await openBench(page, number, address);
  return beside(browser, page, 'tobias');
}

const said = (page: Page) => field(page).locator('p, h2').allInnerTexts();
const groups = 'From twelve people on, every tenth place is free. Please call two days before, so that we can keep the saloon for you.';

test('two people type in the same paragraph: the words of both stay, and each sees the other’s and where they are', async ({ page, browser }) => {
  test.setTimeout(120_000);
  const tobias = await two(browser, page, 'Larkspur Ferries', '/groups.html');
  const ines = page;
  for (const who of [ines, tobias]) await take(who, groups);
  await expect(ines.getByRole('list', { name: 'Who else is on this page' })).toContainText('Tobias Fenn at Opening words');
  await axe(ines);
  await inBlock(tobias, 'end');
  await tobias.keyboard.type(' TOBIAS.', { delay: 40 });
  await inBlock(ines, 'start');
  await ines.keyboard.type('INES. ', { delay: 40 });
  const both = `INES. ${groups} TOBIAS.`;
  for (const who of [ines, tobias]) {
    await soon(() => blockText(who)).toBe(both);
    await kept(who);
    await expect(draft(who).getByText(both)).toBeVisible();
  }
  // Each goes on where they were: what the other one typed has not moved the cursor.
  await Promise.all([ines.keyboard.type('Hm. ', { delay: 90 }), tobias.keyboard.type(' Well.', { delay: 70 })]);
  for (const who of [ines, tobias]) await soon(() => blockText(who)).toBe(`INES. Hm. ${groups} TOBIAS. Well.`);
  await tobias.context().close();
  await expect(ines.getByRole('list', { name: 'Who else is on this page' })).toBeHidden();
});

test('two people change the same words: both wordings are shown, and the one who was later decides', async ({ page, browser }) => {
  test.setTimeout(120_000);
  const tobias = await two(browser, page, 'Larkspur Ferries', '/groups.html');
  const ines = page;
  const tells = ines.getByRole('alert', { name: 'Two wordings of the same words' });
  for (const [mine, theirs, choice] of [
    ['eleven', 'ten', 'Keep yours instead'],
    ['nine', 'eight', 'Leave theirs'],
  ] as const) {
    const was = (await draft(ines).locator('main p').first().innerText()).match(/From (\w+)/)![1]!;
    for (const who of [ines, tobias]) await take(who, `From ${was} people on`);
    await ines.route('**/bench/*', async (r) => (await new Promise((go) => setTimeout(go, 1500)), r.fallback())); // hers is on its way
    const write = async (who: Page, word: string) => {
      await field(who).evaluate((el, was) => {
        const walker = document.createTreeWalker(el, NodeFilter.SHOW_TEXT);
        for (let n = walker.nextNode(); n; n = walker.nextNode()) {
          const at = n.textContent!.indexOf(was);
          if (at >= 0) return getSelection()!.setBaseAndExtent(n, at, n, at + was.length);
        }
      }, was);
      await who.keyboard.type(word, { delay: 20 });
    };
    await write(ines, mine);
    await write(tobias, theirs);
    await expect(tells).toContainText(`From ${theirs} people`);
    await expect(tells).toContainText(`From ${mine} people`);
    await expect(tells).toContainText('Tobias Fenn');
    await ines.unroute('**/bench/*');
    await axe(ines);
    await expect(draft(tobias).getByText(`From ${theirs} people`)).toBeVisible(); // nothing of it is written over unseen
    await ines.getByRole('button', { name: choice }).click();
    await kept(ines);
    const stays = choice === 'Leave theirs' ? theirs : mine;
    for (const who of [ines, tobias]) {
      await soon(() => blockText(who)).toContain(`From ${stays} people on`);
      await expect(draft(who).getByText(`From ${stays} people`)).toBeVisible();
    }
    await expect(tells).toBeHidden();
  }
});

test('blocks that one puts in, turns and takes out are seen by the other, who types between them', async ({ page, browser }) => {
  test.setTimeout(120_000);
  const tobias = await two(browser, page, 'Bramble Row Seed Library', '/articles/broad-beans');
  const ines = page;
  for (const who of [ines, tobias]) await take(who, 'Autumn beans');
  const was = await said(ines);
  await inBlock(tobias, 'end');
  await tobias.keyboard.press('Enter');
  await tobias.keyboard.type('Put in by Tobias.', { delay: 30 });
  await inBlock(ines, 'end');
  await ines.keyboard.type(' And in spring.', { delay: 30 });
  const at = was.findIndex((s) => s.includes('Autumn beans'));
  const now = was.with(at, `${was[at]} And in spring.`).toSpliced(at + 1, 0, 'Put in by Tobias.');
  for (const who of [ines, tobias]) {
    await soon(() => said(who)).toEqual(now);
    await kept(who);
  }
  await inBlock(tobias, 'all');
  await tobias.keyboard.press('Backspace');
  await tobias.keyboard.press('Backspace');
  for (const who of [ines, tobias]) await soon(() => said(who)).toEqual(now.toSpliced(at + 1, 1));
});

test('the outboxes of two and three people lose no word, in whatever order they send', async () => {
  test.setTimeout(process.env.MENDRY_LONG ? 3_600_000 : 240_000);
  const env = { ...process.env, MENDRY_URL: `http://127.0.0.1:${ports}`, MENDRY_INTERLEAVINGS: process.env.MENDRY_LONG ? '1000' : '20' };
  const { status, stdout, stderr } = spawnSync('npx', ['vitest', 'run', '--config', 'vitest.real.config.ts'], { cwd: '../web', env, encoding: 'utf8' });
  console.log(stdout.match(/^\d+ interleavings:.*/m)?.[0] ?? '');
  expect(status === 0 ? '' : stdout + stderr).toBe('');
});
