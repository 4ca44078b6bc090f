import { draft, expect, field, inBlock, kept, newRequest, openBench, signIn, take, test } from '../world';

// Mendry is killed with its database while somebody types, as by a power cut, and started again.
test('no key is lost when the server is killed in the middle of a word, twice', async ({ page, demo }) => {
  await signIn(page);
  const number = await newRequest(page, 'Bramble Row Seed Library', 'Say more about drying, please.');
  await openBench(page, number, '/articles/keeping-seed');
  await take(page, 'Seed keeps when it is dry');
  await inBlock(page, 'end');
  await page.keyboard.press('Enter');
  const typed = 'Nobody minds a cloth bag under the roof, and mice do not either, until March.';
  let again = Promise.resolve();
  for (const [i, key] of [...typed].entries()) {
    if (i === 20 || i === 55) {
      await again;
      await demo.end('SIGKILL');
      setTimeout(() => (again = demo.start()), 1500); // meanwhile somebody types on
    }
    await page.keyboard.press(key);
    await page.waitForTimeout(60);
  }
  await again;
  await expect(field(page)).toContainText(typed);
  await kept(page);
  await page.reload();
  await expect(draft(page).getByText(typed, { exact: true })).toBeVisible();
});
