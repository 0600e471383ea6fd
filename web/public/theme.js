// Before the first frame: the theme that was chosen, else the one that the system wishes.
(() => {
  const chosen = localStorage.getItem('theme');
  const wished = matchMedia('(prefers-color-scheme: light)').matches ? 'chalk' : 'dark';
  document.documentElement.dataset.theme = chosen === 'chalk' || chosen === 'dark' ? chosen : wished;
})();
