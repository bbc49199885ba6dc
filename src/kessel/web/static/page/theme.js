// Before anything is drawn: the theme that was chosen, or the system's.
(() => {
  const kept = (() => { try { return localStorage.getItem("kessel-theme"); } catch { return null; } })();
  const dark = matchMedia("(prefers-color-scheme: dark)");
  const set = () => { document.documentElement.dataset.theme = kept || (dark.matches ? "night" : "paper"); };
  set();
  if (!kept) dark.addEventListener("change", () => { try { if (!localStorage.getItem("kessel-theme")) set(); } catch { set(); } });
})();
