import { writeFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { axe, dir, expect, inBlock, kept, newRequest, openBench, phone, proofLink, proofLinks, publishSigned, read, sendProof, sign, signIn, take, test } from '../world';

/** Words typed on a page and kept, and their proof. */
async function proven(page: Page) {
  await signIn(page);
  const number = await newRequest(page, 'Pennyfield Canal Hire', 'We answer letters within three days now.');
  await openBench(page, number, '/contact.html');
  await take(page, 'We answer letters');
  await inBlock(page, 'end');
  await page.keyboard.type(' In winter it takes longer.', { delay: 5 });
  await kept(page);
  await page.getByRole('button', { name: /Make proof/ }).click();
  return number;
}

test('a client is reminded, answers, and answers on a second phone; what they said “not yet” to is cleared with a reason only', async ({ page, browser }) => {
  await proven(page);
  const links = await proofLinks(page);
  await sendProof(page);
  await page.getByRole('button', { name: 'Remind them' }).click();
  await page.getByRole('button', { name: 'Send the reminder' }).click();
  const round = page.getByRole('region', { name: 'Round 1' });
  await expect(round).toContainText('Reminded');
  const [client, second] = [await phone(browser), await phone(browser)];
  const link = await proofLink(page, links);
  for (const one of [client, second]) await one.goto(link);
  await client.getByRole('button', { name: 'Not yet' }).click();
  await client.getByLabel('say what should be different').fill('Three days, all year round.');
  await client.getByLabel('One thing more?').fill('When do you open?');
  await client.getByRole('button', { name: 'Send back 1 note' }).click();
  await expect(client.getByText('Your notes are with us.')).toHaveCount(0); // nobody's notes are not taken
  await client.getByLabel('Your name').fill('Odette Marsh');
  await client.getByRole('button', { name: 'Send back 1 note' }).click();
  await expect(client.getByText('Your notes are with us.')).toBeVisible();
  await second.getByRole('button', { name: 'Right', exact: true }).click();
  await second.getByLabel('Your name, as your signature').fill('Joss Marsh');
  await second.getByRole('button', { name: 'Sign, all is right' }).click();
  await expect(second.getByText('Nothing that you wrote is lost')).toBeVisible();
  await axe(second);
  for (const one of [client, second]) await one.context().close();
  await page.reload();
  await expect(round).toContainText('Answered by Odette Marsh');
  await expect(round).toContainText('One thing more: When do you open?');
  await expect(round).toContainText('Joss Marsh');
  await page.getByRole('button', { name: 'Clear it ourselves' }).click();
  const asked = page.getByRole('dialog', { name: /said “not yet”/ });
  await expect(asked).toContainText('Three days, all year round.');
  const all = asked.getByRole('button', { name: 'Clear it all the same' });
  await expect(all).toBeDisabled();
  await axe(page);
  await asked.getByLabel('Why it is cleared all the same').fill('Said on the telephone that it may stand.');
  await all.click();
  await expect(page).toHaveURL(/\/release$/);
  await page.getByRole('link', { name: 'Record', exact: true }).last().click();
  await expect(page.getByText('Said on the telephone that it may stand.').first()).toBeVisible();
});

test('somebody else edits the page between clearance and publishing: what was cleared stands, and goes live beside it', async ({ page, browser }) => {
  const number = await proven(page);
  const links = await proofLinks(page);
  await sendProof(page);
  await sign(await proofLink(page, links), browser, 'Edie Marsh');
  await page.goto(`/requests/${number}/release`);
  await expect(page.getByRole('button', { name: 'Publish 1 change' })).toBeEnabled();
  const theirs = (from: string, to: string) => {
    const was = read('pennyfield', 'contact.html');
    expect(was).toContain(from);
    writeFileSync(`${dir}/sites/pennyfield/contact.html`, was.replace(from, to));
  };
  const title = /<h1>([^<]*)/.exec(read('pennyfield', 'contact.html'))![1]!;
  theirs(`<h1>${title}`, `<h1>${title}, or come by`);
  await page.getByRole('button', { name: 'Publish 1 change' }).click();
  await page.getByRole('button', { name: 'Publish now' }).click();
  await page.getByRole('button', { name: 'Leave it and look at the proof' }).click();
  const edited = page.getByRole('region', { name: 'Edited by others' });
  await expect(edited).toContainText('or come by');
  await axe(page);
  await edited.getByRole('button', { name: 'Take in the newer page' }).click();
  const since = page.getByRole('region', { name: 'Edited since it was cleared' });
  await expect(since).toContainText('Edie Marsh');
  await expect(page.frameLocator('iframe[title="The page after"]').getByRole('heading', { level: 1 })).toContainText('or come by');
  await axe(page);
  await since.getByRole('button', { name: 'Let the clearance stand' }).click();
  await expect(page.getByRole('region', { name: 'Round 2' })).toContainText('Round 1 stands beside what others edited');
  await publishSigned(page);
  const now = read('pennyfield', 'contact.html');
  expect(now).toContain('In winter it takes longer.');
  expect(now).toContain(`<h1>${title}, or come by`);
});
