import { axe, expect, newRequest, signIn, test } from '../world';

// A maintainer who travels: the browser's clock is half a day away from the sites'.
test.use({ timezoneId: 'Pacific/Auckland' });

test('times are shown by the site’s clock, days are the same everywhere', async ({ page }) => {
  await signIn(page);
  const there = (at: string, o: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat('en-GB', { timeZone: 'Europe/London', ...o }).format(new Date(at));
  const moment: Intl.DateTimeFormatOptions = { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', timeZoneName: 'short' };

  await page.goto('/');
  const today = await (await page.request.get('/api/today')).json();
  const day = new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', weekday: 'long', day: 'numeric', month: 'long' });
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(day.format(new Date(today.day)));

  const number = await newRequest(page, 'Larkspur Ferries', 'The adult single is £7.40 now, please.');
  await page.goto(`/requests/${number}`);
  const request = await (await page.request.get(`/api/requests/${number}`)).json();
  await expect(page.getByText(there(request.row.received_at, moment))).toBeVisible();
  await axe(page);

  await page.goto(`/record?request=${number}`);
  const record = await (await page.request.get(`/api/record?request=${number}`)).json();
  await expect(page.getByText(there(record.entries[0].at, moment)).first()).toBeVisible();

  await page.goto('/sites/add');
  await expect(page.getByRole('combobox', { name: 'Clock' })).toHaveValue('Pacific/Auckland');
});
