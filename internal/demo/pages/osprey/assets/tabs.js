for (const bar of document.querySelectorAll('[role=tablist]')) {
  const tabs = [...bar.querySelectorAll('[role=tab]')];
  for (const tab of tabs)
    tab.addEventListener('click', (e) => {
      e.preventDefault();
      for (const t of tabs) {
        const on = t === tab;
        t.classList.toggle('is-active', on);
        t.setAttribute('aria-selected', String(on));
        document.getElementById(t.getAttribute('aria-controls')).classList.toggle('is-active', on);
      }
    });
}
