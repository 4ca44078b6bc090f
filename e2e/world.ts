import axeCore from 'axe-core';
import { type Browser, expect, type FrameLocator, type Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import { dir, ports, shifted, test } from './demo';

export { dir, expect, ports, test };

export const site = (n: number) => `http://localhost:${ports + 11 + n}`;
export const host = (n: number) => `http://127.0.0.1:${ports + 21 + n}`;
export const mailbox = `http://localhost:${ports + 2}`;

/** A file of a site, as it lies on its host. */
export const read = (site: string, file: string) => readFileSync(`${dir}/sites/${site}/${file}`, 'utf8');

const password = 'harbour lane'; // everybody's in the demo
const listened = (page: Page) => page.on('pageerror', (e) => expect.soft(e.stack, 'a fault in a script').toBe('none'));

/** Signs in, by a call; where the test begins it says itself. */
export async function signIn(page: Page, name = 'ines') {
  listened(page);
  await signInElsewhere(page, name);
}

/** Signs in as another tab of the same browser would. */
export async function signInElsewhere(page: Page, name = 'ines') {
  const answer = await page.request.post('/api/session', { data: { sign_in: name, password } });
  expect(answer.ok() ? '' : await answer.text()).toBe('');
}

/** The same as a person does it, by the form. */
export async function signInByForm(page: Page) {
  listened(page);
  await page.goto('/');
  await fillForm(page);
}
export async function fillForm(page: Page, name = 'ines') {
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** Chooses a picture that came with the request for the one in hand, and waits until its place is measured. */
export async function pickPicture(page: Page, name: RegExp) {
  await page.getByRole('button', { name }).click();
  await measured(page);
}
export async function measured(page: Page) {
  await expect(page.getByText('measured on the draft just now')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take this one' })).toBeEnabled();
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
}
/** Takes the picture that is on the table. */
export async function takePicture(page: Page) {
  await page.getByRole('button', { name: 'Take this one' }).click();
  await expect(page.getByRole('button', { name: 'Take this one' })).toHaveCount(0);
  await kept(page);
}

/** Lets what previewed pages say reach the bench late, as on a machine that has much else to do. */
export const slowFrames = (page: Page) =>
  page.addInitScript(() => {
    if (window !== window.top) return;
    addEventListener(
      'message',
      (e) => {
        if (!e.isTrusted || e.source === window) return;
        e.stopImmediatePropagation();
        setTimeout(() => dispatchEvent(new MessageEvent('message', { data: e.data, origin: e.origin, source: e.source })), 150);
      },
      true,
    );
  });

/** Finds nothing wrong with a screen, previews of clients' pages left out. */
export async function axe(page: Page) {
  // A button that has just come to be enabled is still fading in, and another may come to be while it is looked at.
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await page.evaluate(() =>
    Promise.all(document.getAnimations().filter((a) => a.effect?.getComputedTiming().iterations !== Infinity).map((a) => a.finished.catch(() => 0))),
  );
  // With nothing in frames to look at, it need not go into each of them, as Playwright's own way to axe does.
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axeCore.source);
  const found = await page.evaluate(async () => {
    const { axe } = window as unknown as { axe: typeof import('axe-core') };
    const { violations } = await axe.run({ exclude: ['iframe'] }, { resultTypes: ['violations'], iframes: false });
    return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`);
  });
  await page.emulateMedia({ reducedMotion: null });
  expect(found).toEqual([]);
  const wider = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(wider, 'sideways scroll').toBeLessThanOrEqual(0);
}

export const draft = (page: Page): FrameLocator => page.frameLocator('iframe[title="The draft of the page"]');

/** Selects words in the letter as a person would with the mouse. */
export async function mark(page: Page, words: string) {
  await expect(page.getByRole('region', { name: 'The letter', exact: true })).toContainText(words);
  await page.evaluate((words) => {
    const root = document.querySelector('[aria-label="The letter"] .letter')!;
    const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
    for (let n = walker.nextNode(); n; n = walker.nextNode()) {
      const at = n.textContent!.indexOf(words);
      if (at < 0) continue;
      const range = document.createRange();
      range.setStart(n, at);
      range.setEnd(n, at + words.length);
      getSelection()!.removeAllRanges();
      getSelection()!.addRange(range);
      return;
    }
    throw new Error(`the letter does not say “${words}”`);
  }, words);
  await page.getByRole('button', { name: /Mark as a wish/ }).click();
}

/** Points at a part of the page on the bench. */
export async function point(page: Page, text: string) {
  await draft(page).getByText(text, { exact: true }).first().click();
}

/** Sets the cursor in the block that it is in: all of it chosen, or at its beginning or end. */
export async function inBlock(page: Page, where: 'all' | 'start' | 'end') {
  await expect(field(page)).toBeFocused();
  await field(page).evaluate((el, where) => {
    const at = getSelection()!.anchorNode!;
    const block = (at instanceof Element ? at : at.parentElement!).closest('p, h1, h2, h3, h4, h5, h6') ?? el.firstElementChild!;
    getSelection()!.selectAllChildren(block);
    if (where === 'start') getSelection()!.collapseToStart();
    if (where === 'end') getSelection()!.collapseToEnd();
  }, where);
  await follows(page);
}

/** The words of the block that the cursor is in. */
export const blockText = (page: Page) =>
  page.evaluate(() => {
    const at = getSelection()?.anchorNode;
    const el = at instanceof Element ? at : at?.parentElement;
    const block = el?.closest('.words-field :is(p, h1, h2, h3, h4, h5, h6)') ?? el?.closest('.words-field'); // all of it is chosen
    return block?.textContent ?? '';
  });

/** Presses a letter that acts, as a person does who has done with typing: not within a second of it. */
export async function letter(page: Page, key: string) {
  await page.waitForTimeout(1100);
  await page.keyboard.press(key);
}

/**
 * What is asked comes to be as said. A page drawn anew between question and answer is asked again, as a person would
 * look again; expect.poll alone gives up there.
 */
export const soon = <T>(ask: () => T | Promise<T>) =>
  expect.poll(async () => {
    for (;;) {
      try {
        return await ask();
      } catch (e) {
        if (!/context was destroyed|frame was detached/i.test(String(e))) throw e;
      }
    }
  });

/** Points at words on the page and waits until the cursor is in them. */
export async function take(page: Page, text: string) {
  await draft(page).getByText(text).first().click();
  await soon(() => blockText(page)).toContain(text);
}

/** Types words into the part in hand, in the place of what it says, and waits until they are kept. */
export async function words(page: Page, text: string) {
  await inBlock(page, 'all');
  await page.keyboard.insertText(text);
  await kept(page);
}

/** Where a part in hand is on many pages and nobody said on which it is changed: on this one. */
export async function thisPageOnly(page: Page) {
  const asked = page.getByRole('region', { name: 'On which pages' });
  await expect(asked.or(page.getByRole('region', { name: 'The margin' }).locator('article .btn').first()).first()).toBeVisible();
  if (await asked.isVisible()) await asked.getByRole('button', { name: 'this page only' }).click();
}

/** The editor of the part in hand. */
export const field = (page: Page) => page.getByRole('region', { name: 'The margin' }).getByRole('textbox', { name: 'Words', exact: true });

/** Opens a page of a request on the bench. */
export async function openBench(page: Page, number: number, address: string) {
  const r = await (await page.request.get(`/api/requests/${number}`)).json();
  const s = await (await page.request.get(`/api/sites/${r.row.site_id}`)).json();
  const id = s.pages.find((p: { address: string }) => p.address === address).id;
  // Not until it is loaded: what it fetches beforehand belongs to that, and a test may hold it.
  await page.goto(`/requests/${number}/bench/${id}`, { waitUntil: 'domcontentloaded' });
  await expect(draft(page).locator('body')).toBeVisible();
}

/** Waits until the editor has followed the selection, as it has long before a person presses the next key. */
export const follows = (page: Page) => page.evaluate(() => new Promise((seen) => requestAnimationFrame(() => setTimeout(seen, 30))));

/** Selects words in the editor, as a person would with the mouse. */
export async function choose(page: Page, text: string) {
  await field(page).evaluate((el, text) => {
    const walker = document.createTreeWalker(el, NodeFilter.SHOW_TEXT);
    for (let n = walker.nextNode(); n; n = walker.nextNode()) {
      const at = n.textContent!.indexOf(text);
      if (at < 0) continue;
      (el as HTMLElement).focus();
      getSelection()!.setBaseAndExtent(n, at, n, at + text.length);
      return;
    }
    throw new Error(`the words do not hold “${text}”`);
  }, text);
  await page.waitForFunction((text) => getSelection()!.toString() === text, text);
  await follows(page);
}

/** Pastes markup into the editor. */
export async function paste(page: Page, html: string, text: string) {
  await field(page).evaluate(
    (el, [html, text]) => {
      const data = new DataTransfer();
      if (html) data.setData('text/html', html);
      data.setData('text/plain', text!);
      el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    },
    [html, text],
  );
}

/** Clears a request in the studio and publishes all of it, until it is seen to be right. */
export async function publish(page: Page) {
  await page.getByRole('button', { name: /Make proof/ }).click();
  await page.getByRole('button', { name: 'Clear it ourselves' }).click();
  await publishNow(page);
}

/** Publishes what is cleared until that release is seen to be right; an earlier one may stand below it. */
async function publishNow(page: Page) {
  const number = page.url().match(/requests\/(\d+)/)![1];
  const releases = async () => (await (await page.request.get(`/api/requests/${number}/releases`)).json()) as { state: string }[];
  const had = (await releases()).length;
  await page.getByRole('button', { name: /^Publish \d+ changes?$/ }).click();
  await page.getByRole('button', { name: 'Publish now' }).click();
  await expect
    .poll(async () => {
      const all = await releases(); // the newest first
      return all.length > had && all[0]!.state;
    }, { timeout: 90_000 })
    .toBe('sure');
  await expect(page.getByText('live, and seen to be right').first()).toBeVisible();
}

export async function kept(page: Page) {
  await expect(page.getByText('Kept as you type.')).toBeVisible();
}

/** The newest letter's link to a proof. */
export async function proofLink(page: Page, before: Set<string>): Promise<string> {
  let found = '';
  await expect
    .poll(async () => {
      const text = await (await page.request.get(mailbox)).text();
      const links = [...text.matchAll(/href="(http[^"]*\/p\/[a-z2-7]+)"/g)].map((m) => m[1]!);
      found = links.find((l) => !before.has(l)) ?? '';
      return found;
    })
    .not.toBe('');
  return found;
}

export async function proofLinks(page: Page): Promise<Set<string>> {
  const text = await (await page.request.get(mailbox)).text();
  return new Set([...text.matchAll(/href="(http[^"]*\/p\/[a-z2-7]+)"/g)].map((m) => m[1]!));
}

/** A client's phone. */
export async function phone(browser: Browser): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  await shifted(context);
  return context.newPage();
}

/** Lets a page keep nothing in the browser, as its owner may have it. */
export const keepNothing = (page: Page) =>
  page.addInitScript(() =>
    Object.defineProperty(window, 'localStorage', {
      get() {
        throw new DOMException('Access is denied for this document.', 'SecurityError');
      },
    }),
  );

/** Every file below a folder with the hash of its bytes. */
export function files(root: string): Record<string, string> {
  const all: Record<string, string> = {};
  const walk = (d: string, rel: string) => {
    for (const f of readdirSync(d)) {
      const [p, r] = [join(d, f), rel ? `${rel}/${f}` : f];
      if (statSync(p).isDirectory()) walk(p, r);
      else all[r] = createHash('sha256').update(readFileSync(p)).digest('hex');
    }
  };
  walk(root, '');
  return all;
}

/** Runs the command line; the exit code and what it printed. */
export function mendry(...args: string[]): { code: number; out: string; err: string } {
  try {
    return { code: 0, out: execFileSync('../bin/mendry', args, { encoding: 'utf8', stdio: 'pipe' }), err: '' };
  } catch (e) {
    const f = e as { status: number; stdout: string; stderr: string };
    return { code: f.status, out: f.stdout, err: f.stderr };
  }
}

/** A real PNG of one colour. */
export function png(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const out = Buffer.alloc(8 + body.length);
    out.writeUInt32BE(data.length);
    body.copy(out, 4);
    out.writeUInt32BE(crc32(body), out.length - 4);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width);
  head.writeUInt32BE(height, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const row = Buffer.concat([Buffer.from([0]), Buffer.alloc(width * 3, 0x5a)]);
  const rows = Buffer.concat(Array.from({ length: height }, () => row));
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** Takes in a letter, by a call; its number. */
export async function newRequest(page: Page, siteName: string, letter: string): Promise<number> {
  const sites: { id: number; name: string }[] = await (await page.request.get('/api/sites')).json();
  const data = { site_id: sites.find((s) => s.name === siteName)!.id, subject: '', letter, kind: 'mail' };
  const answer = await page.request.post('/api/requests', { data, headers: await token(page) });
  expect(answer.ok() ? '' : await answer.text()).toBe('');
  return (await answer.json()).row.number;
}

/** Presses Tab until what is wanted has the focus. */
export async function tabTo(page: Page, wanted: ReturnType<Page['getByRole']>) {
  for (let n = 0; n < 90; n++) {
    if (await wanted.evaluate((el) => el === document.activeElement).catch(() => false)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`Tab never gets to ${wanted}`);
}

/** Sends the proof in view; where it is refused, the test says why. */
export async function sendProof(page: Page) {
  await page.getByRole('button', { name: 'Send to client' }).click();
  const answered = page.waitForResponse((r) => r.request().method() === 'POST' && r.url().endsWith('/proof'), { timeout: 60_000 });
  await page.getByRole('button', { name: 'Send the proof' }).click();
  const answer = await answered;
  expect(answer.ok() ? '' : await answer.text()).toBe('');
}

/** Sends the proof, signs it on the client's phone, and publishes all of it until it is seen to be right. */
export async function signAndPublish(page: Page, browser: Browser, name: string) {
  const links = await proofLinks(page);
  await page.getByRole('button', { name: /Make proof/ }).click();
  await sendProof(page);
  await expect(page.getByText('Not opened yet.')).toBeVisible();
  await sign(await proofLink(page, links), browser, name);
  await publishSigned(page);
}

/** Publishes what the client has signed until it is seen to be right. */
export async function publishSigned(page: Page) {
  await page.reload();
  await page.getByRole('link', { name: /^Publish \d+ changes?$/ }).click();
  await publishNow(page);
}

/** Finds everything right and signs, on a phone. */
export async function sign(link: string, browser: Browser, name: string) {
  const client = await phone(browser);
  await client.goto(link);
  await expect(client.getByRole('article').first()).toBeVisible();
  for (const card of await client.getByRole('article').all()) await card.getByRole('button', { name: 'Right' }).click();
  await client.getByLabel('Your name, as your signature').fill(name);
  await client.getByRole('button', { name: 'Sign, all is right' }).click();
  await expect(client.getByText(`Thank you, ${name}.`)).toBeVisible();
  await client.context().close();
}

/** Takes the release in view back, until the host has what it had. */
export async function takeBack(page: Page) {
  await page.getByRole('button', { name: 'Undo this release' }).click();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByText('back, and seen to be right')).toBeVisible({ timeout: 90_000 });
}

/** What a call needs that changes something. */
export async function token(page: Page): Promise<Record<string, string>> {
  const me = await (await page.request.get('/api/session')).json();
  return { 'X-Mendry-Token': me.csrf };
}

/** Takes back what is kept for a request, as a test that is tried a second time has to. */
export async function beginAgain(page: Page, number: number) {
  const { thread } = await (await page.request.get(`/api/requests/${number}`)).json();
  for (const c of (thread as { id: number; state: string }[]).filter((c) => c.state === 'kept').reverse())
    await page.request.delete(`/api/requests/${number}/changes/${c.id}`, { headers: await token(page) });
}

type Bench = {
  runs: { blocks: { part: string; form?: string }[] }[];
  parts: { id: string; text: string }[];
  changes: { id: number }[];
  facts: { title: string };
};

/** What Mendry has of the page on the bench. */
export const benchOf = async (page: Page): Promise<Bench> => (await page.request.get(`/api${new URL(page.url()).pathname}`)).json();

/** How the run with some words reads on the draft. */
export async function runOf(page: Page, words: string): Promise<string[]> {
  const bench = await benchOf(page);
  const of = new Map(bench.parts.map((p) => [p.id, p.text]));
  const run = bench.runs.find((r) => r.blocks.some((b) => of.get(b.part)?.includes(words)))!;
  return run.blocks.map((b) => `${b.form ?? ''} ${of.get(b.part) ?? ''}`.trim());
}

/** Holds back what is asked for at such addresses until it is let go. */
export async function hold(page: Page, at: RegExp): Promise<() => void> {
  let letGo: () => void = () => {};
  const held = new Promise<void>((on) => (letGo = on));
  await page.route(at, async (route) => {
    await held;
    return route.continue().catch(() => {}); // a page that is left is not asked for any more
  });
  return letGo;
}

/** Lets what the bench asks Mendry to do be done late; what it only reads comes at once. */
export const late = (page: Page, ms: number) =>
  page.route('**/api/requests/*/bench/**', async (route) => {
    if (route.request().method() === 'GET') return route.fallback();
    await new Promise((later) => setTimeout(later, ms));
    return route.fallback();
  });
