// Waits in a page for what it shows, type and pictures that come into view late among it, and measures its parts. It gives up
// waiting after a while.
async (tallest, settles) => {
  const later = (ms) => new Promise((done) => setTimeout(done, ms));
  const until = (p) => Promise.race([p, later(4000)]);
  const high = () => Math.max(document.documentElement.scrollHeight, document.body ? document.body.scrollHeight : 0);
  for (let y = 0; y < Math.min(high(), tallest); y += 600) {
    scrollTo(0, y);
    await later(30);
  }
  scrollTo(0, 0);
  await until(document.fonts ? document.fonts.ready : 0);
  const loads = [...document.images].map((i) => i.complete || new Promise((done) => { i.onload = i.onerror = done; }));
  await until(Promise.all(loads));
  await later(settles);

  const box = (r) => ({ X: r.x + scrollX, Y: r.y + scrollY, Width: r.width, Height: r.height });
  const parts = [...document.querySelectorAll('[data-mendry]')].slice(0, 3000);
  const boxes = parts.map((e) => ({ ID: e.dataset.mendry, ...box(e.getBoundingClientRect()) }));

  const paints = (s) => /url\(/.test(s.backgroundImage);
  const covers = (s) => /^rgb\(/.test(s.backgroundColor); // with no alpha in it
  /** Of an element and those around it, the first to paint its ground does so with a picture. */
  const onBackground = (e) => {
    for (let at = e; at; at = at.parentElement) {
      const s = getComputedStyle(at);
      if (paints(s)) return true;
      if (covers(s)) return false;
    }
    return false;
  };
  const pictures = [...document.querySelectorAll('img, video')].map((i) => [i, box(i.getBoundingClientRect())]);
  let looks = 0; // elements that were scrolled to
  /** What lies under the middle of a line is a picture that stands beside its element. */
  const onPicture = (e, line) => {
    const x = line.X + line.Width / 2;
    const y = line.Y + line.Height / 2;
    const under = ([i, b]) => x > b.X && x < b.X + b.Width && y > b.Y && y < b.Y + b.Height && !e.contains(i);
    if (!pictures.some(under) || ++looks > 60) return false;
    scrollTo(0, y - innerHeight / 2);
    const stack = document.elementsFromPoint(x - scrollX, y - scrollY);
    for (const at of stack.slice(stack.findIndex((o) => e.contains(o)) + 1)) {
      if (at instanceof HTMLImageElement || at instanceof HTMLVideoElement) return true;
      if (covers(getComputedStyle(at))) return false;
    }
    return false;
  };
  const reached = document.createElement('style'); // those too that let clicks through
  reached.textContent = '*{pointer-events:auto!important;scroll-behavior:auto!important}';
  document.documentElement.append(reached);
  const over = [];
  for (const e of parts) {
    if (over.length >= 200) break;
    if (![...e.childNodes].some((n) => n.nodeType === 3 && n.data.trim())) continue;
    const range = document.createRange();
    range.selectNodeContents(e);
    const lines = [...range.getClientRects()].slice(0, 40).map(box);
    if (!lines.length || !(onBackground(e) || onPicture(e, lines[0]))) continue;
    const s = getComputedStyle(e);
    const ink = (s.color.match(/[\d.]+/g) || []).slice(0, 3).map(Number).map(Math.round);
    const size = parseFloat(s.fontSize);
    const large = size >= 24 || (size >= 18.66 && Number(s.fontWeight) >= 700);
    over.push({ ID: e.dataset.mendry, Ink: ink, Large: large, Lines: lines });
    e.dataset.mendryOver = '';
  }
  reached.remove();
  scrollTo(0, 0);
  return { high: high(), over, parts: boxes };
}
