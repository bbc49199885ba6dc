// Alpine: what only concerns this page and this moment.
document.addEventListener("alpine:init", () => {
  Alpine.data("page", () => ({
    init() {
      this.$root.addEventListener("click", (event) => {
        const button = event.target.closest("[data-act=theme], [data-act=help]");
        if (!button) return;
        if (button.dataset.act === "theme") this.theme();
        else this.help();
      });
    },
    theme() {
      const root = document.documentElement;
      root.dataset.theme = root.dataset.theme === "night" ? "paper" : "night";
      try { localStorage.setItem("kessel-theme", root.dataset.theme); } catch { /* not kept */ }
    },
    help() {
      const panel = document.getElementById("help");
      if (!panel) return;
      panel.hidden = !panel.hidden;
      document.querySelector("nav [data-act=help]").setAttribute("aria-expanded", String(!panel.hidden));
    },
  }));
});
