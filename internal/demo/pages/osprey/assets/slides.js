for (const set of document.querySelectorAll('.voices')) {
  let at = 0;
  const step = () => {
    const all = set.querySelectorAll('.voice');
    const room = Math.max(1, Math.round(set.clientWidth / all[0].clientWidth));
    at = (at + 1) % Math.max(1, all.length - room + 1);
    set.scrollTo({ left: all[at].offsetLeft - all[0].offsetLeft, behavior: 'smooth' });
  };
  if (!matchMedia('(prefers-reduced-motion: reduce)').matches) setInterval(step, Number(set.dataset.seconds || 5) * 1000);
}
