import type { Page } from '@playwright/test';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { axe, dir, draft, expect, files, kept, letter, mark, mendry, phone, pickPicture, png, point, proofLink, proofLinks, sendProof, signInByForm, site, soon, takePicture, test, words } from '../world';

const larkspur = `${dir}/sites/larkspur`;

/** Has what the test publishes read past the cache, which keeps what it gets (RFC 9111, 5.2.1.4). */
async function emptyCache(page: Page) {
  for (const file of ['fares.html', 'img/new-boat-2027.png']) await page.request.get(`${site(0)}/${file}`, { headers: { 'Cache-Control': 'no-cache' } });
}

test.use({ cache: '1h' }); // longer than the test takes

test('the whole road, from a letter to a verified record and back', async ({ page, browser }) => {
  await page.goto('/');
  await axe(page);
  await signInByForm(page);
  const before = files(larkspur);
  await axe(page);

  await test.step('receive a letter with a picture', async () => {
    await letter(page, 'n');
    await page.getByLabel('What the client wrote or said').fill(
      'Dear Ines, from January the dog pass costs £1.80, and the heading should say “Fares and tickets”. Please use the new boat photo. Maren',
    );
    await page.getByRole('combobox', { name: 'Site', exact: true }).selectOption({ label: 'Larkspur Ferries' });
    await page.getByLabel('Pictures and files that came with it').setInputFiles({ name: 'New Boat 2027.PNG', mimeType: 'image/png', buffer: png(1600, 640) });
    await axe(page);
    await page.getByRole('button', { name: 'Keep and read it' }).click();
    await expect(page.getByText('New Boat 2027.PNG')).toBeVisible();
  });

  await test.step('mark two wishes and place them', async () => {
    await mark(page, 'the dog pass costs £1.80');
    const find = page.getByRole('combobox', { name: 'Where on Larkspur Ferries?' });
    await find.fill('£1.50');
    await page.getByRole('option', { name: /fares\.html Dog, Single/ }).click();
    await expect(page.getByText('· Dog, Single')).toBeVisible();
    await mark(page, 'the heading should say “Fares and tickets”');
    await find.fill('fares and passes');
    await axe(page);
    await page.getByRole('option', { name: /fares\.html Fares and passes/ }).click();
    await expect(page.getByText('· Fares and passes')).toBeVisible();
  });

  await test.step('change a price, a heading, a picture and two sections', async () => {
    await page.getByRole('button', { name: 'Open on the bench' }).first().click();
    await expect(draft(page).getByRole('heading', { level: 1 })).toHaveText('Fares and passes');
    await words(page, '£1.80');
    await expect(draft(page).getByText('£1.80')).toBeVisible();
    await axe(page);
    await point(page, 'Fares and passes');
    await words(page, 'Fares and tickets');
    await draft(page).getByRole('img', { name: 'Boat at the quay' }).click();
    await pickPicture(page, /New Boat 2027/);
    await takePicture(page);
    await expect(page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem')).toHaveCount(3);
    await axe(page);
    await point(page, 'Dogs');
    await page.getByRole('button', { name: 'the section “Dogs”' }).click();
    await page.getByRole('button', { name: 'Copy below' }).click();
    await expect(draft(page).getByRole('heading', { name: 'Dogs' })).toHaveCount(2);
    await point(page, 'Groups and schools');
    await page.getByRole('button', { name: 'the section “Groups and schools”' }).click();
    await page.getByRole('button', { name: 'Move up' }).click();
    await expect(draft(page).getByRole('heading', { level: 2 })).toHaveText(['Groups and schools', 'Passes', 'Dogs', 'Dogs']);
    await kept(page);
  });

  await test.step('what is kept survives a reload, and nothing reached the site', async () => {
    await page.reload();
    await expect(page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem')).toHaveCount(5);
    await expect(draft(page).getByText('£1.80')).toBeVisible();
    expect(files(larkspur)).toEqual(before);
  });

  let links = await proofLinks(page);
  await test.step('proof at three widths, sent to the client', async () => {
    await page.getByRole('button', { name: /Make proof/ }).click();
    await expect(page.getByText('“Fares and passes” becomes')).toHaveCount(0);
    for (const width of [390, 768, 1280]) {
      await page.getByRole('button', { name: String(width), exact: true }).click();
      const frame = page.frameLocator('iframe[title="The page after"]');
      await soon(() => frame.locator('html').evaluate(() => innerWidth)).toBe(width);
      await expect(frame.getByRole('heading', { level: 1 })).toHaveText('Fares and tickets');
      await expect(page.frameLocator('iframe[title="The live page"]').getByRole('heading', { level: 1 })).toHaveText('Fares and passes');
    }
    await expect(page.getByRole('region', { name: 'Checks' }).getByText('Nothing else on the page changes')).toBeVisible();
    await axe(page);
    await page.getByRole('button', { name: 'Send to client' }).click();
    await page.getByRole('dialog').waitFor();
    await axe(page);
    await page.getByRole('button', { name: 'Send the proof' }).click();
    await expect(page.getByText('Not opened yet.')).toBeVisible();
  });

  const client = await phone(browser);
  await test.step('the client says “not yet” to one', async () => {
    await client.goto(await proofLink(page, links));
    await expect(client.getByRole('article')).toHaveCount(5);
    await axe(client);
    for (const card of await client.getByRole('article').all()) {
      const title = (await card.getByRole('heading').innerText()) === 'The heading of the page';
      await card.getByRole('button', { name: title ? 'Not yet' : 'Right' }).click();
    }
    await client.getByLabel('say what should be different').fill('“Fares and passes for everybody”, please');
    await client.getByLabel('Your name').fill('Maren Quayle');
    await client.getByRole('button', { name: 'Send back 1 note' }).click();
    await expect(client.getByText('Your notes are with us.')).toBeVisible();
    await axe(client);
  });

  await test.step('a second round, all right, signed', async () => {
    links = await proofLinks(page);
    await page.reload();
    await expect(page.getByText('the client: not yet. “Fares and passes for everybody”, please')).toBeVisible();
    await page.getByRole('link', { name: 'Bench' }).click();
    await expect(page.getByRole('list', { name: 'The thread of changes' })).toContainText('client: not yet');
    await point(page, 'Fares and tickets');
    await expect(page.getByRole('region', { name: 'The margin' })).toContainText('The client, round 1: not yet. “Fares and passes for everybody”, please');
    await words(page, 'Fares and passes for everybody');
    await page.getByRole('button', { name: /Make proof/ }).click();
    await sendProof(page);
    await expect(page.getByRole('heading', { name: 'Round 2' })).toBeVisible();
    await client.goto(await proofLink(page, links));
    await expect(client.getByRole('article')).toHaveCount(5);
    for (const card of await client.getByRole('article').all()) await card.getByRole('button', { name: 'Right' }).click();
    await client.getByLabel('Your name, as your signature').fill('Maren Quayle');
    await client.getByRole('button', { name: 'Sign, all is right' }).click();
    await expect(client.getByText('Thank you, Maren Quayle.')).toBeVisible();
  });

  await test.step('publish, and make sure that visitors see it after the cache', async () => {
    await page.reload();
    await page.getByRole('link', { name: 'Publish 5 changes' }).click();
    await page.getByRole('button', { name: 'Publish 5 changes' }).click();
    await page.request.get(`${site(0)}/fares.html`); // a visitor fills the cache with the old page
    await page.getByRole('button', { name: 'Publish now' }).click();
    await expect(page.getByText('A cache still gives visitors the old page')).toBeVisible();
    await emptyCache(page);
    await page.getByRole('button', { name: 'Look again now' }).click();
    await expect(page.getByText('live, and seen to be right')).toBeVisible({ timeout: 60_000 });
    await axe(page);
    const seen = await (await page.request.get(`${site(0)}/fares.html`)).text();
    expect(seen).toContain('<td>£1.80</td>');
    expect(seen).toContain('<h1>Fares and passes for everybody</h1>');
    expect(seen).toContain('src="/img/new-boat-2027.png"');
    expect((await page.request.get(`${site(0)}/img/new-boat-2027.png`)).ok()).toBe(true);
    await expect(page.getByText('nothing kept')).toHaveCount(0); // the demo's other requests still have something kept
  });

  await test.step('the record is whole, and an altered one is refused', async () => {
    await page.getByRole('link', { name: 'Record', exact: true }).last().click();
    await expect(page.getByText('The record is whole')).toBeVisible();
    await axe(page);
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Hand over as JSON' }).click()]);
    const file = `${dir}/record.json`;
    await download.saveAs(file);
    const good = mendry('record', 'verify', file);
    expect(good.code).toBe(0);
    expect(JSON.parse(good.out).whole).toBe(true);
    writeFileSync(file, readFileSync(file, 'utf8').replace('£1.80', '£1.10'));
    const bad = mendry('record', 'verify', file);
    expect(bad.code).toBe(1);
    expect(bad.err).toMatch(/altered/);
    rmSync(file);
  });

  await test.step('undone: the host’s files are byte for byte what they were', async () => {
    await page.goBack();
    await page.getByRole('button', { name: 'Undo this release' }).click();
    await page.getByRole('button', { name: 'Take it back' }).click();
    await expect(page.getByText('A cache still gives visitors the old page').first()).toBeVisible();
    await emptyCache(page);
    await page.getByRole('button', { name: 'Look again now' }).first().click();
    await expect(page.getByText('back, and seen to be right')).toBeVisible({ timeout: 60_000 });
    expect(files(larkspur)).toEqual(before);
    await axe(page);
  });
});
