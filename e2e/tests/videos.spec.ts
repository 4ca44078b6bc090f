import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { axe, dir, draft, expect, files, newRequest, openBench, png, read, signAndPublish, signIn, site, soon, takeBack, test } from '../world';

const films = '../internal/demo/films';
const thread = (page: Page) => page.getByRole('list', { name: 'The thread of changes' }).getByRole('listitem');

/** Another site, with a page that offers its player, and what was asked of it. */
async function otherSite(): Promise<{ at: string; asked: string[]; server: Server }> {
  const asked: string[] = [];
  let at = '';
  const server = createServer((q, r) => {
    asked.push(q.url!);
    if (q.url === '/oembed')
      return r
        .setHeader('Content-Type', 'application/json')
        .end(JSON.stringify({ type: 'video', title: 'A night on the hill', width: 640, height: 360, html: `<iframe src="${at}/embed"></iframe>` }));
    const body = q.url === '/watch' ? '<link rel="alternate" type="application/json+oembed" href="/oembed"><p>Watch</p>' : '<p>The film plays</p>';
    return r.setHeader('Content-Type', 'text/html').end(`<!doctype html><title>Films</title>${body}`);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  at = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
  return { at, asked, server };
}

test('a film of one’s own with captions, its cover taken by hand; seen at 1280 and at 390; put back', async ({ page, browser }) => {
  test.setTimeout(180_000);
  await signIn(page);
  const before = files(`${dir}/sites/saltgate`);
  const number = await newRequest(page, 'Saltgate Observatory', 'Please show our film below the first words.');
  await openBench(page, number, '/tonight.html');
  await draft(page).getByText('Updated at four in the afternoon.').click();
  await page.getByRole('button', { name: 'Film below' }).click();
  const form = page.getByRole('region', { name: 'A film or sound below' });
  await form.getByLabel('Film or sound').setInputFiles(`${films}/roof-opens.mp4`);
  await expect(form.getByText('It has no title yet.')).toBeVisible();
  await form.getByLabel('Title').fill('The roof opens');
  await expect(form.getByText('It has no cover yet.')).toBeVisible();
  const film = form.locator('video');
  await film.evaluate((v: HTMLVideoElement) => {
    v.currentTime = 3;
    return new Promise((done) => v.addEventListener('seeked', done, { once: true }));
  });
  await form.getByRole('button', { name: 'Take this moment as the cover' }).click();
  await expect(form.getByRole('img', { name: 'The cover' })).toBeVisible();
  await form.getByLabel('A file of captions (.vtt)').setInputFiles(`${films}/roof-opens.vtt`);
  await expect(form.getByRole('combobox', { name: 'Captions' })).toHaveValue(/\d+/);
  await axe(page);
  await form.getByRole('button', { name: 'Put it in' }).click();
  await expect(thread(page)).toHaveCount(1);
  expect(files(`${dir}/sites/saltgate`)).toEqual(before);

  // Made otherwise before it goes out, it is one change still.
  await page.getByRole('button', { name: 'Make it otherwise' }).click();
  const again = page.getByRole('region', { name: 'The film' });
  await again.getByLabel('Title').fill('The roof opens, in six seconds');
  await again.getByRole('button', { name: 'Take it so' }).click();
  await expect(thread(page)).toHaveCount(1);
  await expect(draft(page).getByText('The roof opens, in six seconds').last()).toBeVisible();
  await signAndPublish(page, browser, 'Dr Ilse Varnham');
  const added = Object.keys(files(`${dir}/sites/saltgate`)).filter((f) => !before[f]);
  expect(added.sort()).toEqual(['files/roof-opens-cover.jpg', 'files/roof-opens.mp4', 'files/roof-opens.vtt']);
  expect(readFileSync(`${dir}/sites/saltgate/files/roof-opens.mp4`).equals(readFileSync(`${films}/roof-opens.mp4`))).toBe(true);

  // As a visitor: the cover is seen, the film is not loaded before it is asked for, and then it plays with its captions.
  for (const width of [1280, 390]) {
    const visitor = await browser.newPage({ viewport: { width, height: 800 } });
    const loaded: string[] = [];
    visitor.on('request', (r) => loaded.push(new URL(r.url()).pathname));
    await visitor.goto(`${site(2)}/tonight.html`);
    const shown = visitor.getByTitle('The roof opens, in six seconds');
    await shown.scrollIntoViewIfNeeded();
    const box = (await shown.boundingBox())!;
    expect(box.x).toBeGreaterThanOrEqual(0);
    expect(box.x + box.width).toBeLessThanOrEqual(width);
    expect(box.width / box.height).toBeCloseTo(16 / 9, 1);
    await soon(() => loaded).toContain('/files/roof-opens-cover.jpg');
    expect(loaded).not.toContain('/files/roof-opens.mp4');
    await shown.evaluate((v: HTMLVideoElement) => ((v.muted = true), v.play()));
    await soon(() => shown.evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(0.2);
    expect(await shown.evaluate((v: HTMLVideoElement) => v.textTracks[0]?.language)).toBe('en');
    await visitor.close();
  }
  await takeBack(page);
  expect(files(`${dir}/sites/saltgate`)).toEqual(before);
});

test('a film that plays elsewhere stands with its cover, and asks the other site for nothing before a visitor does', async ({ page, browser }) => {
  test.setTimeout(180_000);
  const other = await otherSite();
  await signIn(page);
  const before = files(`${dir}/sites/saltgate`);
  const number = await newRequest(page, 'Saltgate Observatory', 'Please show the film of our night.');
  await openBench(page, number, '/tonight.html');
  await draft(page).getByText('Updated at four in the afternoon.').click();
  await page.getByRole('button', { name: 'Film below' }).click();
  const form = page.getByRole('region', { name: 'A film or sound below' });
  await form.getByRole('radio', { name: 'an address' }).locator('..').click();
  await form.getByRole('textbox', { name: 'Address' }).fill('http://127.0.0.1:1/watch');
  await expect(form.getByRole('alert')).toBeVisible();
  await form.getByRole('textbox', { name: 'Address' }).fill(`${other.at}/watch`);
  await expect(form.getByText('It takes the cover’s place when a visitor chooses it')).toBeVisible();
  await expect(form.getByLabel('Title')).toHaveValue('A night on the hill');
  await form.getByLabel('A picture of this machine').setInputFiles({ name: 'Hill.png', mimeType: 'image/png', buffer: png(1400, 900) });
  await form.getByRole('button', { name: 'Put it in' }).click();
  await expect(thread(page)).toHaveCount(1);
  await signAndPublish(page, browser, 'Dr Ilse Varnham');
  expect(read('saltgate', 'tonight.html')).toContain('<iframe srcdoc=');

  other.asked.length = 0;
  const visitor = await browser.newPage({ viewport: { width: 390, height: 800 } });
  await visitor.goto(`${site(2)}/tonight.html`);
  const frame = visitor.frameLocator('iframe[title="A night on the hill"]');
  await expect(frame.getByRole('link', { name: /A night on the hill/ })).toBeVisible();
  await soon(() => frame.locator('img').evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(1280);
  expect(other.asked).toEqual([]);
  await frame.getByRole('link', { name: /A night on the hill/ }).click();
  await expect(visitor.frameLocator('iframe[title="A night on the hill"]').getByText('The film plays')).toBeVisible();
  expect(other.asked).toContain('/embed');
  await visitor.close();
  await takeBack(page);
  expect(files(`${dir}/sites/saltgate`)).toEqual(before);
  other.server.close();
});
