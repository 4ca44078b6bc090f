// Voices and posts that slide or fade, as many beside each other as data-show says, the next after data-seconds.
for (const set of document.querySelectorAll('.voices, .posts')) {
  const voices = [...set.querySelectorAll('.voice, .post')];
  const narrow = matchMedia('(max-width: 760px)');
  const fades = set.dataset.effect === 'fade';
  const shown = () => (narrow.matches ? 1 : Math.min(Number(set.dataset.show) || 3, 4));
  const stops = () => Math.max(1, voices.length - shown() + 1);
  let at = 0;
  set.style.setProperty('--shown', shown());
  if (set.dataset.author === 'no') set.classList.add('voices--unsigned');
  const dots = document.createElement('div');
  if (set.dataset.dots !== 'no') {
    dots.className = 'voices__dots';
    dots.append(...Array.from({ length: stops() }, () => document.createElement('i')));
    set.after(dots);
  }
  const go = (to) => {
    at = to % stops();
    [...dots.children].forEach((d, i) => d.classList.toggle('is-on', i === at));
    const left = voices[at].offsetLeft - voices[0].offsetLeft;
    if (fades) set.animate({ opacity: [0.2, 1] }, 400);
    set.scrollTo({ left, behavior: fades ? 'instant' : 'smooth' });
  };
  go(0);
  if (!matchMedia('(prefers-reduced-motion: reduce)').matches)
    setInterval(() => go(at + 1), Number(set.dataset.seconds || 5) * 1000);
}
