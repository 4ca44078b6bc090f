// Runs inside a previewed page, in an opaque origin. It tells the bench which part is pointed at, marks parts when it
// is told to, and keeps links, buttons and forms from firing. It knows nothing of Mendry but these messages.
(() => {
  'use strict';
  const load = Number(new URLSearchParams(location.search).get('mendry-load')); // which of the pages that the frame was given
  const { draft } = document.currentScript.dataset; // which one gave the parts their names
  const up = (message) => parent.postMessage({ mendry: true, load, draft, ...message }, '*');
  const find = (id) => document.querySelector(`[data-mendry="${CSS.escape(id)}"]`);
  const whenRead = (act) => (document.readyState === 'loading' ? addEventListener('DOMContentLoaded', act) : act());
  const layer = document.createElement('div');
  layer.setAttribute(
    'style',
    'all:initial;position:absolute;inset:0 auto auto 0;width:0;height:0;z-index:2147483647;pointer-events:none',
  );
  const shadow = layer.attachShadow({ mode: 'closed' });
  const style = new CSSStyleSheet();
  style.replaceSync(`
    div { position:absolute; box-sizing:border-box; pointer-events:none; }
    .hover { outline:2px solid #2a3f7c; outline-offset:2px; background:rgba(42,63,124,.06); }
    .now { box-shadow:-5px 0 0 -2px #2a3f7c, 5px 0 0 -2px #2a3f7c; background:rgba(42,63,124,.10); outline:1px solid rgba(42,63,124,.5); outline-offset:2px; }
    .kept { border-bottom:3px dashed #7d5800; margin-bottom:-3px; }
    .old { background:rgba(154,43,33,.14); outline:2px solid #9a2b21; outline-offset:2px; }
    .new { background:rgba(58,97,48,.14); outline:2px solid #3a6130; outline-offset:2px; }
    .theirs { outline:2px dotted #2a3f7c; outline-offset:4px; }
    .bare { background:none !important; }
    .locked { outline:2px dotted #575b68; outline-offset:2px; background:rgba(87,91,104,.10); }
  `);
  shadow.adoptedStyleSheets = [style];
  let marks = [];
  let hovered = '';
  let pointing; // not known until the bench has said so
  let early; // where was pointed before that

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
  // How large each picture is shown, and whether its place has a shape of its own: one that follows the picture takes any
  // shape that it is told to have.
  const placeOf = (el) => {
    const r = el.getBoundingClientRect();
    if (r.width < 1 || r.height < 1) return undefined;
    const { aspectRatio, height, objectFit } = getComputedStyle(el); // as they are before anything is tried
    const kept = el.getAttribute('style');
    if (Number(el.getAttribute('height')) && height === `${Number(el.getAttribute('height'))}px`)
      el.style.setProperty('height', 'auto', 'important'); // which follows the width when the picture is changed
    el.style.setProperty('aspect-ratio', '1 / 3', 'important');
    const told = el.getBoundingClientRect();
    if (kept === null) el.removeAttribute('style');
    else el.setAttribute('style', kept);
    const own = !aspectRatio.startsWith('auto') || Math.abs(told.width / told.height - 1 / 3) > 0.02;
    return [Math.round(r.width), Math.round(r.height), objectFit, own];
  };
  const behindOf = (el, size = getComputedStyle(el).backgroundSize) => {
    const r = el.getBoundingClientRect();
    if (r.width < 1 || r.height < 1) return undefined;
    return [Math.round(r.width), Math.round(r.height), ['cover', 'contain'].includes(size) ? size : 'none', true];
  };
  const pictures = async (toCome) => {
    const all = [...document.querySelectorAll('img[data-mendry]')];
    for (const el of all) el.loading = 'eager';
    const come = (el) => el.complete || new Promise((done) => ['load', 'error'].forEach((t) => el.addEventListener(t, done)));
    await Promise.race([Promise.all(all.map(come)), new Promise((done) => setTimeout(done, 2500))]);
    const found = {};
    for (const el of all) found[el.dataset.mendry] = placeOf(el);
    for (const el of document.querySelectorAll('[data-mendry-behind]')) found[el.dataset.mendryBehind] = behindOf(el);
    for (const el of document.querySelectorAll('[data-mendry]:not(img):not([data-mendry-behind])'))
      if (/url\(/.test(getComputedStyle(el).backgroundImage)) found[el.dataset.mendry] = behindOf(el); // by a style sheet
    const bare = toCome && find(toCome); // behind which a picture will stand, and fill it
    if (bare) found[toCome] = behindOf(bare, 'cover');
    up({ say: 'pictures', pictures: found });
  };
  // How large the picture in hand stands on the page, and in how much room: by what holds it alone, as its figure.
  const laid = (el) => {
    const figure = el.closest('figure');
    return figure?.querySelectorAll('img').length === 1 ? figure : el;
  };
  // A picture as it is being sized, until the page comes as it is kept.
  let unsized;
  const sized = () => {
    const id = marks.find((m) => m.look === 'now')?.id;
    const el = id && find(id);
    if (el?.localName !== 'img') return undefined;
    let room = laid(el).parentElement;
    while (room?.parentElement && getComputedStyle(room).display.startsWith('inline')) room = room.parentElement;
    const r = el.getBoundingClientRect();
    const own = getComputedStyle(room);
    const wide = room.clientWidth - parseFloat(own.paddingLeft) - parseFloat(own.paddingRight);
    return { id, left: r.left + scrollX, top: r.top + scrollY, width: r.width, height: r.height, wide, tried: !!unsized };
  };
  const size = (id, percent) => {
    const el = find(id);
    if (!el) return;
    const it = laid(el);
    unsized ??= [it, el].map((e) => [e, e.getAttribute('style')]);
    if (percent) {
      it.style.setProperty('width', `${percent}%`, 'important');
      if (it !== el) el.style.setProperty('width', '100%', 'important');
      el.style.setProperty('height', 'auto', 'important');
      return;
    }
    for (const [e, style] of unsized) {
      if (style === null) e.removeAttribute('style');
      else e.setAttribute('style', style);
    }
    unsized = undefined;
  };
  const places = () => {
    const at = {};
    for (const el of document.querySelectorAll('[data-mendry]')) {
      const r = el.getBoundingClientRect();
      if (r.width || r.height) at[el.dataset.mendry] = [Math.round(r.top + scrollY), Math.round(r.height)];
    }
    up({
      say: 'places',
      at,
      sized: sized(),
      height: document.documentElement.scrollHeight,
      scroll: scrollY,
      ready: typeset,
    });
  };
  // Whether the page stands as it will: type that comes later moves what stands below it. A type or a picture that does not
  // come is not waited for.
  let typeset = false;
  const sets = async () => {
    document.documentElement.getBoundingClientRect(); // asks for the type that the page needs
    await Promise.race([document.fonts.ready, new Promise((done) => setTimeout(done, 1500))]);
    typeset = true;
    openMarked(); // the page's own scripts may have begun only now, and closed it
    soon();
  };
  if (document.readyState === 'complete') void sets();
  else {
    addEventListener('load', sets);
    whenRead(() => setTimeout(sets, 2500)); // a page that takes longer is shown as far as it has come
  }
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
  // What words are said to be: an abbreviation, marked, of another language. The page may dress it; this only draws it.
  const meant = (el) =>
    ['abbr', 'mark', 'span'].includes(el.localName) &&
    [...el.attributes].every((a) => ['title', 'lang', 'dir'].includes(a.name)) &&
    (el.localName !== 'span' || el.attributes.length > 0);
  const known = (el) => looks.has(el.localName) || meant(el);
  const plain = (html) => {
    const count = (name) => [...document.getElementsByTagName(name)].filter((e) => e.firstChild).length;
    const old = count('b') + count('i') > count('strong') + count('em');
    const written = old ? { strong: 'b', em: 'i' } : {}; // near to how it will be written; the draft says exactly
    const made = document.createDocumentFragment();
    const copy = (from, to) => {
      for (const k of from.childNodes) {
        if (k.nodeType === Node.TEXT_NODE) to.append(k.data);
        else if (k.nodeType === Node.ELEMENT_NODE) {
          if (!known(k)) return false;
          const el = document.createElement(written[k.localName] ?? k.localName);
          if (k.localName === 'a') el.setAttribute('href', '#');
          else if (meant(k)) for (const a of k.attributes) el.setAttribute(a.name, a.value);
          to.append(el);
          if (!copy(k, el)) return false;
        }
      }
      return true;
    };
    return copy(new DOMParser().parseFromString(html, 'text/html').body, made) ? made : null;
  };

  // A run as it is typed: the blocks that are to stand there, in order, known by keys. What the server made of it takes the
  // place of all this when the page is loaded again.
  const hands = new Map(); // of each run that was taken in hand its blocks, by key
  const tagOf = { bullets: 'li', numbers: 'li', quote: 'p' };
  const outermost = (el) => {
    const up = el.parentElement;
    return up && ['UL', 'OL', 'BLOCKQUOTE'].includes(up.tagName) ? up : el;
  };
  // What is read of markup, and how it looks: what else stands in the page around words is left out.
  const same = { strong: 'b', em: 'i' };
  const gist = (node) => {
    let all = '';
    for (const k of node.childNodes) {
      if (k.nodeType === Node.TEXT_NODE) all += k.data.replace(/[ \t\r\n]+/g, ' ');
      else if (k.nodeType !== Node.ELEMENT_NODE) continue;
      else if (looks.has(k.localName)) {
        const name = same[k.localName] ?? k.localName;
        all += `<${name}>${gist(k)}</${name}>`;
      } else all += gist(k);
    }
    return all.trim();
  };
  const fill = (el, html) => {
    if (gist(el) === gist(new DOMParser().parseFromString(html, 'text/html').body)) return true;
    const now = plain(html);
    if (!now || ![...el.querySelectorAll('*')].every(known)) return false;
    el.replaceChildren(now);
    return true;
  };
  const made = (b, before) => {
    const item = b.form === 'bullets' || b.form === 'numbers';
    const like = item && before?.localName === 'li' ? before : undefined;
    const el = document.createElement(tagOf[b.form] ?? b.form);
    const alike = like ?? (before?.localName === el.localName ? before : undefined);
    if (alike?.className) el.className = alike.className;
    if (!before) return undefined;
    if (like) before.after(el);
    else if (item) {
      const list = document.createElement(b.form === 'bullets' ? 'ul' : 'ol');
      list.append(el);
      outermost(before).after(list);
    } else if (b.form === 'quote') {
      const quote = document.createElement('blockquote');
      quote.append(el);
      outermost(before).after(quote);
    } else outermost(before).after(el);
    return el;
  };
  const run = (blocks, hand) => {
    let whole = true;
    const byKey = hands.get(hand) ?? new Map();
    hands.set(hand, byKey);
    const keys = new Set(blocks.map((b) => b.key));
    let before;
    for (const b of blocks) {
      let el = byKey.get(b.key);
      if (!el?.isConnected) el = b.part ? find(b.part) : undefined;
      if (!b.form) {
        if (el) byKey.set(b.key, (before = el));
        continue;
      }
      const tag = tagOf[b.form] ?? b.form;
      if (el && el.localName !== tag) {
        const other = document.createElement(tag);
        other.append(...el.childNodes);
        if (el.dataset.mendry) other.dataset.mendry = el.dataset.mendry;
        if (el.localName === 'li' || tag === 'li')
          whole = false; // a list parts or begins: only the server can say how
        else el.replaceWith(other);
        if (other.isConnected) el = other;
      }
      if (!el) el = made(b, before);
      if (!el) {
        whole = false;
        continue;
      }
      if (before && el !== before && before.compareDocumentPosition(el) & Node.DOCUMENT_POSITION_PRECEDING)
        outermost(before).after(outermost(el));
      el.dataset.mendryKey = b.key;
      whole = fill(el, b.html ?? '') && whole;
      byKey.set(b.key, (before = el));
    }
    for (const [key, el] of byKey)
      if (!keys.has(key)) {
        const up = outermost(el);
        el.remove();
        if (up !== el && !up.children.length) up.remove();
        byKey.delete(key);
      }
    if (!whole) up({ say: 'stale' });
  };

  // How many letters of a part stand before the place that was pointed at, white space taken as it is read.
  const offset = (el, x, y) => {
    const r = document.caretRangeFromPoint?.(x, y);
    if (!r || !el.contains(r.startContainer)) return undefined;
    const before = document.createRange();
    before.setStart(el, 0);
    before.setEnd(r.startContainer, r.startOffset);
    return before
      .toString()
      .replace(/[ \t\r\n]+/g, ' ')
      .replace(/^ /, '').length;
  };

  // What a part says or shows, by which it is known on a page that took this one's place.
  const gistOf = (el) =>
    (el.textContent.trim() || el.currentSrc || el.querySelector('img')?.currentSrc || '').slice(0, 300);

  // The picture that lies under what was pointed at: behind it, or covered by it.
  const under = (el, x, y) => {
    for (const e of document.elementsFromPoint(x, y)) {
      const id = e.dataset.mendryBehind ?? (e.localName === 'img' ? e.dataset.mendry : undefined);
      if (id && e !== el) return id;
    }
    return undefined;
  };

  // A block that was typed and has not come from the server yet is known by its key alone.
  const pointed = (el, at, x, y, again) => {
    const { mendry: id, mendryKey: key } = el.dataset;
    const around = el.parentElement?.closest('[data-mendry]');
    up({
      say: 'point',
      id: id ?? '',
      key,
      at,
      around: around && { id: around.dataset.mendry, key: around.dataset.mendryKey, at: offset(around, x, y) },
      under: under(el, x, y),
      x,
      y,
      scroll: scrollY,
      gist: gistOf(el),
      tag: el.localName,
      again,
    });
  };
  const pointAt = (target, x, y, again) => {
    const el = target?.closest?.('[data-mendry], [data-mendry-key]');
    if (el) pointed(el, offset(el, x, y), x, y, again);
  };
  // Points again at what was pointed at on a page that this one took the place of: what says the same, the nearest of them,
  // or else what stands there.
  const pointAgain = (m) => {
    if (Math.abs(scrollY - m.scroll) > 1) scroll(m.scroll);
    const away = (el) => Math.abs(el.getBoundingClientRect().top - m.y);
    const same = [...document.querySelectorAll(`${m.tag}[data-mendry]`)].filter(
      (el) => m.gist && gistOf(el) === m.gist,
    );
    const el = same.sort((a, b) => away(a) - away(b))[0];
    if (el) pointed(el, m.at, m.x, m.y, true);
    else pointAt(document.elementFromPoint(m.x, m.y), m.x, m.y, true);
  };

  let opening = false; // the bench opens something by a click of its own, which the page's scripts are to see
  const block = (e) => {
    e.preventDefault();
    if (!opening) e.stopImmediatePropagation();
  };
  for (const type of ['click', 'auxclick', 'dblclick', 'submit', 'dragstart']) addEventListener(type, block, true);
  // The button going down points: until it comes up, another page may stand here. The focus stays outside, where the words are.
  addEventListener(
    'mousedown',
    (e) => {
      if (e.button !== 0) return;
      if (pointing === undefined) early = [e.target, e.clientX, e.clientY];
      else if (pointing && e.target.closest?.('[data-mendry], [data-mendry-key]')) {
        block(e);
        pointAt(e.target, e.clientX, e.clientY);
      }
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
  // Shows what is closed, on another tab or on a slide that is not there: by what the page has for it, and where that does
  // nothing by the page's own boxes being shown. It is for this look alone; the page comes as it is when it is loaded again.
  const hidden = (el) => !el.checkVisibility({ opacityProperty: true, visibilityProperty: true });
  const outside = (el) => {
    const r = el.getBoundingClientRect();
    for (let up = el.parentElement; up && up !== document.body; up = up.parentElement) {
      if (getComputedStyle(up).overflowX === 'visible') continue;
      const box = up.getBoundingClientRect();
      if (r.right <= box.left + 4 || r.left >= box.right - 4) return true;
    }
    return false;
  };
  const openMarked = () => {
    for (const now of marks) if (now.open) reveal(now.id, now.open);
  };
  const reveal = (id, open) => {
    const el = find(id);
    if (!el || !(hidden(el) || outside(el))) return;
    for (let up = el.closest('details'); up; up = up.parentElement?.closest('details')) up.open = true;
    for (const half of open) {
      const it = find(half);
      if (!it || !(hidden(el) || outside(el))) continue;
      opening = true;
      (it.matches('a, button, label') ? it : (it.querySelector('a, button, label, [role=tab]') ?? it)).click();
      opening = false;
    }
    if (!hidden(el)) {
      if (outside(el)) el.scrollIntoView({ inline: 'center', block: 'nearest', behavior: 'instant' });
      return;
    }
    for (let up = el; up && up !== document.body; up = up.parentElement) {
      const s = getComputedStyle(up);
      if (s.display === 'none') {
        up.hidden = false;
        for (const like of up.parentElement.children)
          if (like !== up && like.localName === up.localName && like.className && up.classList.contains(like.classList[0]))
            like.style.setProperty('display', 'none', 'important'); // one of them is shown at a time
        up.style.setProperty('display', 'block', 'important');
      }
      if (s.visibility === 'hidden') up.style.setProperty('visibility', 'visible', 'important');
      if (s.opacity === '0') up.style.setProperty('opacity', '1', 'important');
    }
    soon();
  };
  // Who has just scrolled is not scrolled back to the part in hand.
  let placed = 0; // where the bench scrolled to
  let scrolled = -Infinity; // when somebody else did
  const scroll = (top) => {
    scrollTo({ top, behavior: 'instant' });
    placed = scrollY;
  };
  addEventListener(
    'scroll',
    () => {
      if (Math.abs(scrollY - placed) > 1) scrolled = performance.now();
      up({ say: 'scroll', scroll: scrollY });
    },
    { passive: true },
  );
  addEventListener('resize', soon);
  addEventListener('message', (e) => {
    if (e.source !== parent || !e.data?.mendry) return;
    const m = e.data;
    if (m.do === 'marks') {
      marks = m.marks;
      openMarked();
      pointing = m.pointing;
      if (pointing && early) pointAt(...early);
      early = undefined;
      soon();
    } else if (m.do === 'scroll') {
      scroll(m.scroll);
    } else if (m.do === 'where') {
      up({ say: 'here', scroll: scrollY });
    } else if (m.do === 'tell') {
      up({ say: 'told', n: m.n }); // behind all that was told before
    } else if (m.do === 'show') {
      const r = find(m.id)?.getBoundingClientRect();
      if (!r || performance.now() - scrolled < 700 || (r.top >= 8 && r.bottom <= innerHeight - 8)) return;
      scroll(scrollY + r.top - Math.max(8, (innerHeight - r.height) / 2));
    } else if (m.do === 'words') {
      const el = find(m.id);
      const now = el && plain(m.html);
      if (now && [...el.querySelectorAll('*')].every((k) => looks.has(k.localName) && !k.dataset.mendry))
        el.replaceChildren(now);
      else up({ say: 'stale' }); // wrappers and the like stand among the words: only the server can place them
      soon();
    } else if (m.do === 'click') {
      pointAgain(m.at);
    } else if (m.do === 'size') {
      size(m.id, m.percent);
      soon();
    } else if (m.do === 'pictures') {
      void pictures(m.behind);
    } else if (m.do === 'run') {
      run(m.blocks, m.hand);
      soon();
    }
  });
  new ResizeObserver(soon).observe(document.documentElement);
  whenRead(() => document.documentElement.append(layer));
  soon();
})();
