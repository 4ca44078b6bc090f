import { chromium } from '@playwright/test';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--disable-dev-shm-usage','--no-sandbox'] });
const c = await b.newContext({ viewport: { width: 1280, height: 800 } });
const p = await c.newPage();
p.on('console', (m) => ['error'].includes(m.type()) && console.log('console', m.type(), m.text()));
p.on('pageerror', (e) => console.log('pageerror', e.message));
await p.goto('http://localhost:8400/');
await p.getByRole('button', { name: /Ines Oakley/ }).click();
await p.getByRole('navigation', { name: 'Places' }).waitFor();
for (let [name, url, js] of JSON.parse(process.argv[2])) {
  if (url.startsWith('B|')) {
    const [, n, address, part] = url.split('|');
    url = await p.evaluate(async ([n, address, part]) => {
      const r = await (await fetch('/api/requests/' + n)).json();
      const s = await (await fetch('/api/sites/' + r.row.site_id)).json();
      const pg = s.pages.find((x) => x.address === address).id;
      const bn = await (await fetch(`/api/requests/${n}/bench/${pg}`)).json();
      const id = bn.parts.find((x) => x.name === part || x.kind + ' ' + x.name === part)?.id ?? '';
      return `/requests/${n}/bench/${pg}?part=${id}&wish=${r.wishes[0]?.id ?? ''}`;
    }, [n, address, part]);
  }
  await p.goto(url.startsWith('http') ? url : 'http://localhost:8400' + url);
  await p.waitForTimeout(1500);
  if (js) { await p.evaluate(js).catch(e=>console.log(e.message)); await p.waitForTimeout(1200); }
  await p.screenshot({ path: `/tmp/shots/${name}.png` });
}
await b.close();
