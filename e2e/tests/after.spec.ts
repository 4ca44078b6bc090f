import type { Page } from '@playwright/test';
import { expect, newRequest, signIn, soon, test, thisPageOnly } from '../world';

// Whatever is done to whatever part: what is typed right after it goes into what is in hand, near what it was done to, or
// nowhere. Every act on every kind of part of every site of the demo in make test-long; some of it in every run.
const some = process.env.MENDRY_LONG ? 1 : Number(process.env.MENDRY_AFTER ?? 17); // one part of so many, and one act

interface Part {
  id: string;
  kind: string;
  edit: string;
  parent: string;
  locked: string;
  fits: { anchor: string; where: 'before' | 'after' }[];
}
interface Bench {
  parts: Part[];
}
const acts = /^(Copy below|Move up|Move down|Hide|Take out|Table below|(Words|Heading|List|Button) at its end|(Row|Column): .+)$/;
const word = 'Zyqx';

/** The stretch of the page that an act on a part may change, by how many parts stand before it and behind it. */
function around(parts: Part[], part: Part) {
  const at = (id: string) => parts.findIndex((p) => p.id === id);
  const inside = (p: Part, id: string): boolean => !!p.parent && (p.parent === id || inside(parts[at(p.parent)]!, id));
  const beside = part.fits.map((f) => f.anchor).filter((id) => at(id) >= 0);
  // A cell is changed with its row, and that with its table.
  let up = part;
  while (['cell', 'row'].includes(up.kind) && at(up.parent) >= 0) up = parts[at(up.parent)]!;
  const ids = [up.id, ...beside, ...(beside.length < 2 && up.parent ? [up.parent] : [])];
  const all = parts.flatMap((p, i) => (ids.some((id) => p.id === id || inside(p, id)) ? [i] : []));
  return { before: Math.min(...all), behind: parts.length - 1 - Math.max(...all) };
}

/** Takes a part in hand in a request of its own, and says what can be done to it at once. */
async function open(page: Page, site: string, pageId: number, part: string) {
  const number = await newRequest(page, site, 'Try it.');
  const refused = page.waitForResponse((r) => r.url().includes('/refused?')); // what cannot be done is greyed then
  await page.goto(`/requests/${number}/bench/${pageId}?part=${part}`);
  await thisPageOnly(page);
  await refused;
  const margin = page.getByRole('region', { name: 'The margin' });
  const buttons = margin.getByRole('button', { name: acts, disabled: false });
  const names = await buttons.evaluateAll((all) => all.map((b) => b.getAttribute('aria-label') ?? b.textContent!.trim()));
  const bench = async (): Promise<Bench> => (await page.request.get(`/api/requests/${number}/bench/${pageId}`)).json();
  return { names, margin, bench };
}

/** Does an act on a part and types a word at once; says what is wrong with where it went, undefined where the act is refused. */
async function typedAfter(page: Page, site: string, pageId: number, id: string, name: string) {
  const { margin, bench } = await open(page, site, pageId, id);
  const was = (await bench()).parts;
  const answered = page.waitForResponse((r) => r.request().method() === 'POST' && r.url().endsWith(`/bench/${pageId}`));
  await margin.getByRole('button', { name, exact: true, disabled: false }).click();
  if ((await answered).status() !== 200) return undefined;
  await expect(page.getByText('Kept as you type.')).toBeVisible();
  await page.keyboard.type(word, { delay: 30 });
  const typed = await page.evaluate(() => document.activeElement?.getAttribute('role') === 'textbox');
  const holding = async () => (await bench()).parts.flatMap((p, i, all) => (p.edit.includes(word) ? [{ id: p.id, i, behind: all.length - 1 - i }] : []));
  if (!typed) return (await holding()).length ? 'typed into what is not in hand' : '';
  await soon(async () => (await holding()).length).toBeGreaterThan(0);
  const { before, behind } = around(was, was.find((p) => p.id === id)!);
  const far = (await holding()).filter((h) => h.i < before || h.behind < behind);
  return far.length ? `typed far away, into ${far.map((h) => h.id).join(', ')}` : '';
}

test('what is typed right after an act goes into what is in hand, near what it was done to, or nowhere', async ({ page }) => {
  test.setTimeout(process.env.MENDRY_LONG ? 7_200_000 : 240_000);
  await signIn(page);
  const wrong: string[] = [];
  let [tried, turn] = [0, 0];
  const sites: { id: number; name: string }[] = await (await page.request.get('/api/sites')).json();
  for (const site of sites) {
    const { pages } = (await (await page.request.get(`/api/sites/${site.id}`)).json()) as { pages: { id: number; address: string; locked: string }[] };
    const number = await newRequest(page, site.name, 'Look at every part.');
    for (const p of pages.filter((p) => !p.locked).slice(0, 2)) {
      const { parts }: Bench = await (await page.request.get(`/api/requests/${number}/bench/${p.id}`)).json();
      const kinds = new Map(parts.filter((q) => !q.locked).map((q) => [q.kind, q])); // the last of each
      for (const part of kinds.values()) {
        if (turn++ % some) continue;
        const { names } = await open(page, site.name, p.id, part.id);
        for (const name of some === 1 ? names : names.slice(turn % names.length).slice(0, 1))
          await test.step(`${site.name} ${p.address} ${part.id}: ${name}`, async () => {
            const got = await typedAfter(page, site.name, p.id, part.id, name);
            if (got !== undefined) tried++;
            if (got) wrong.push(`${site.name} ${p.address}, ${part.id}, ${name}: ${got}`);
          });
      }
    }
  }
  console.log(`typed after ${tried} acts on ${turn} parts`);
  expect(wrong).toEqual([]);
  expect(tried).toBeGreaterThan(3);
});
