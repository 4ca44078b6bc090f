// Runs inside a previewed page, in an opaque origin. It tells the bench which part is pointed at, marks parts when it
// is told to, and keeps links, buttons and forms from firing. It knows nothing of Mendry but these messages.
(() => {
  'use strict';
  const up = (message) => parent.postMessage({ mendry: true, ...message }, '*');
  const find = (id) => document.querySelector(`[data-mendry="${CSS.escape(id)}"]`);
  const layer = document.createElement('div');
  layer.setAttribute('style', 'all:initial;position:absolute;inset:0 auto auto 0;width:0;height:0;z-index:2147483647;pointer-events:none');
  const shadow = layer.attachShadow({ mode: 'closed' });
  const style = new CSSStyleSheet();
  style.replaceSync(`
    div { position:absolute; box-sizing:border-box; pointer-events:none; }
    .hover { outline:2px solid #2a3f7c; outline-offset:2px; background:rgba(42,63,124,.06); }
    .now { box-shadow:-5px 0 0 -2px #2a3f7c, 5px 0 0 -2px #2a3f7c; background:rgba(42,63,124,.10); outline:1px solid rgba(42,63,124,.5); outline-offset:2px; }
    .kept { border-bottom:3px dashed #7d5800; margin-bottom:-3px; }
    .old { background:rgba(154,43,33,.14); outline:2px solid #9a2b21; outline-offset:2px; }
    .new { background:rgba(58,97,48,.14); outline:2px solid #3a6130; outline-offset:2px; }
    .bare { background:none !important; }
    .locked { outline:2px dotted #575b68; outline-offset:2px; background:rgba(87,91,104,.10); }
  `);
  shadow.adoptedStyleSheets = [style];
  const start = () => document.documentElement.append(layer);
  if (document.documentElement) start();
  let marks = [];
  let hovered = '';
  let pointing = false;

  const box = (id, look) => {
    const el = find(id);
    if (!el) return;
    const r = el.getBoundingClientRect();
    if (r.width === 0 && r.height === 0) return;
    const d = document.createElement('div');
    d.className = el.localName === 'img' ? `${look} bare` : look; // a picture is not tinted
    d.style.left = `${r.left + scrollX}px`;
    d.style.top = `${r.top + scrollY}px`;
    d.style.width = `${r.width}px`;
    d.style.height = `${r.height}px`;
    shadow.append(d);
  };
  const draw = () => {
    shadow.replaceChildren();
    for (const m of marks) box(m.id, m.look);
    if (pointing && hovered && !marks.some((m) => m.id === hovered && m.look === 'now')) box(hovered, 'hover');
  };
  const places = () => {
    const at = {};
    for (const el of document.querySelectorAll('[data-mendry]')) {
      const r = el.getBoundingClientRect();
      if (r.width || r.height) at[el.dataset.mendry] = [Math.round(r.top + scrollY), Math.round(r.height)];
    }
    up({ say: 'places', at, height: document.documentElement.scrollHeight, scroll: scrollY, ready: document.readyState === 'complete' });
  };
  let waiting = 0;
  const soon = () => {
    cancelAnimationFrame(waiting);
    waiting = requestAnimationFrame(() => {
      draw();
      places();
    });
  };

  // Words as an editor has them, made of the elements that it knows and nothing else.
  const looks = new Set(['strong', 'b', 'em', 'i', 'u', 's', 'code', 'sub', 'sup', 'br', 'a']);
  const plain = (html) => {
    const count = (name) => [...document.getElementsByTagName(name)].filter((e) => e.firstChild).length;
    const old = count('b') + count('i') > count('strong') + count('em');
    const written = old ? { strong: 'b', em: 'i' } : {}; // near to how it will be written; the draft says exactly
    const made = document.createDocumentFragment();
    const copy = (from, to) => {
      for (const k of from.childNodes) {
        if (k.nodeType === Node.TEXT_NODE) to.append(k.data);
        else if (k.nodeType === Node.ELEMENT_NODE) {
          if (!looks.has(k.localName)) return false;
          const el = document.createElement(written[k.localName] ?? k.localName);
          if (k.localName === 'a') el.setAttribute('href', '#');
          to.append(el);
          if (!copy(k, el)) return false;
        }
      }
      return true;
    };
    return copy(new DOMParser().parseFromString(html, 'text/html').body, made) ? made : null;
  };

  const block = (e) => {
    e.preventDefault();
    e.stopImmediatePropagation();
  };
  for (const type of ['click', 'auxclick', 'dblclick', 'submit', 'dragstart'])
    addEventListener(
      type,
      (e) => {
        block(e);
        if (type !== 'click' || !pointing) return;
        const el = e.target.closest?.('[data-mendry]');
        if (el) up({ say: 'point', id: el.dataset.mendry });
      },
      true,
    );
  addEventListener('mouseover', (e) => {
    const id = e.target.closest?.('[data-mendry]')?.dataset.mendry ?? '';
    if (id === hovered) return;
    hovered = id;
    draw();
    if (pointing) up({ say: 'over', id });
  });
  addEventListener('mouseout', (e) => {
    if (e.relatedTarget) return;
    hovered = '';
    draw();
    if (pointing) up({ say: 'over', id: '' });
  });
  for (const type of ['keydown', 'keyup'])
    addEventListener(
      type,
      (e) => {
        if (e.ctrlKey || e.metaKey || e.altKey || e.key === 'Tab') return;
        up({ say: type, key: e.key, repeat: e.repeat });
        if (e.key === 'Enter' || e.key === ' ') block(e);
      },
      true,
    );
  addEventListener('scroll', () => up({ say: 'scroll', scroll: scrollY }), { passive: true });
  addEventListener('resize', soon);
  addEventListener('load', soon);
  addEventListener('message', (e) => {
    if (e.source !== parent || !e.data?.mendry) return;
    const m = e.data;
    if (m.do === 'marks') {
      marks = m.marks;
      pointing = m.pointing;
      soon();
    } else if (m.do === 'scroll') {
      scrollTo({ top: m.scroll, behavior: 'instant' });
    } else if (m.do === 'show') {
      const el = find(m.id);
      const r = el?.getBoundingClientRect();
      if (r && (r.top < 8 || r.bottom > innerHeight - 8)) el.scrollIntoView({ block: 'center', behavior: 'instant' });
    } else if (m.do === 'words') {
      const el = find(m.id);
      const now = el && plain(m.html);
      if (now && [...el.querySelectorAll('*')].every((k) => looks.has(k.localName) && !k.dataset.mendry)) el.replaceChildren(now);
      else up({ say: 'stale' }); // wrappers and the like stand among the words: only the server can place them
      soon();
    }
  });
  new ResizeObserver(soon).observe(document.documentElement);
  soon();
})();
