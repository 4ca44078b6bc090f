import type { Page } from '@playwright/test';
import { axe, dir, draft, expect, files, kept, measured, newRequest, openBench, publish, read, signIn, soon, takePicture, test } from '../world';

const margin = (page: Page) => page.getByRole('region', { name: 'The margin' });

/** Chooses a look of the part in hand, by the side of the look and what the site calls it. */
async function look(page: Page, side: string, name: RegExp | string) {
  const choices = margin(page).getByRole('group', { name: side });
  const fold = margin(page).getByRole('button', { name: 'Look', exact: true });
  if ((await fold.getAttribute('aria-expanded')) === 'false') await fold.click();
  const choice = choices.getByRole('button', { name });
  await choice.click();
  await expect(choice).toHaveAttribute('aria-pressed', 'true');
  await kept(page);
}

test('a band’s colour, space and background picture; a heading’s colour, shadow and motion; an icon; two of them taken back alone', async ({ page }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const before = files(`${dir}/sites/osprey`);
  const was = read('osprey', 'house/index.html');
  const number = await newRequest(page, 'Osprey Hall Climbing', 'The part on when we are full: lighter, more air, the cave behind it, and the heading should come in like the other one, in our red.');
  await openBench(page, number, '/house/');
  const bench = page.url();
  const heading = draft(page).getByRole('heading', { name: 'When the house is full' });
  const band = draft(page).locator('section').last();
  const colour = () => band.evaluate((s) => getComputedStyle(s).backgroundColor);

  // The heading: what the site has for headings.
  await heading.click();
  await look(page, 'Colour of the words', /^ink rust/);
  await look(page, 'Shadow', /^shadow sun/);
  await look(page, 'Motion', /^rise/);
  await soon(() => heading.evaluate((h) => [getComputedStyle(h).color, getComputedStyle(h).textShadow, getComputedStyle(h).animationName])).toEqual([
    'rgb(185, 63, 39)', 'rgb(232, 178, 58) 2px 2px 0px', 'rise',
  ]);

  // The band: another colour, in the place of the one that it had; red on teal would have been hard to read.
  await margin(page).getByRole('button', { name: /the section “When the house is full”/ }).first().click();
  await expect(margin(page).getByRole('group', { name: 'Background' }).getByRole('button', { name: /^teal/ })).toHaveAttribute('aria-pressed', 'true');
  await expect(margin(page).getByRole('group', { name: 'Background' }).getByRole('button', { name: /^teal/ })).toContainText('hard to read');
  await axe(page);
  await look(page, 'Background', /^white/);
  await soon(colour).toBe('rgb(255, 255, 255)');
  const high = () => band.evaluate((s) => s.getBoundingClientRect().height);
  const low = await high();
  await look(page, 'Space', /^tall/);
  await soon(async () => (await high()) > low + 60).toBe(true);
  await margin(page).getByRole('button', { name: 'A picture behind it' }).click();
  await page.getByRole('button', { name: 'kids.jpg' }).click();
  await measured(page);
  await takePicture(page);
  await soon(() => band.evaluate((s) => getComputedStyle(s).backgroundImage)).toContain('/media/kids');

  // The clock becomes the bowl of soup, from another line of the page.
  await draft(page).getByText('Wednesdays after six').click();
  await margin(page).getByRole('button', { name: 'Icon', exact: true }).click();
  const icons = margin(page).getByRole('group', { name: 'Icons of this site' });
  await expect(icons.getByRole('button', { name: 'clock' })).toHaveAttribute('aria-pressed', 'true');
  await expect(icons.getByRole('button', { name: 'phone' })).toBeVisible(); // of another page
  await axe(page);
  await icons.getByRole('button', { name: 'bowl' }).press('Enter');
  await kept(page);
  await expect(icons.getByRole('button', { name: 'bowl' })).toHaveAttribute('aria-pressed', 'true');

  const thread = page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');
  await expect(thread).toHaveCount(7);
  await publish(page);
  const live = read('osprey', 'house/index.html');
  const file = /url\('\.\.\/(media\/kids[^']*)'\)/.exec(live)![1]!;
  const [bowl, clock] = ['bowl', 'clock'].map((name) => new RegExp(`<svg class="sign sign-${name}".*?</svg>`).exec(was)![0]) as [string, string];
  /** The page as it was, but for these. */
  const of = (style: string, classes: string, h2: string, icon: string) =>
    was
      .replace('<section class="block block--teal block--low">', `<section${style} class="${classes}">`)
      .replace('<h2>When', `<h2${h2}>When`)
      .replace(clock, icon);
  const picture = ` style="background-image:url('../${file}');background-size:cover;background-position:center"`;
  expect(live).toBe(of(picture, 'block block--white block--tall', ' class="ink-rust shadow-sun rise"', bowl));
  const now = files(`${dir}/sites/osprey`);
  expect(Object.keys(now).filter((f) => now[f] !== before[f]).sort()).toEqual([...new Set(['house/index.html', ...(file in before ? [] : [file])])].sort());

  // Two of them are taken back alone; the rest stays.
  await page.goto(bench);
  for (const name of [/Background of/, /Icon of/]) {
    await page.getByRole('list', { name: 'The thread of changes' }).getByRole('button', { name }).first().click();
    await page.getByRole('button', { name: 'Take this change back' }).click();
    await kept(page);
  }
  await soon(colour).toBe('rgb(29, 90, 99)');
  await publish(page);
  expect(read('osprey', 'house/index.html')).toBe(of(picture, 'block block--teal block--tall', ' class="ink-rust shadow-sun rise"', clock));
});
