// Tabs and radio buttons: one of them can be reached with Tab, the arrows move among them and choose, as in the ARIA
// practices. And folding menus: Escape closes them and gives the focus back.
import { plain, take } from "./page.js";

const OPTIONS = "[role=radio], [role=tab], [role=option]";
const chosen = (option) => option.getAttribute("aria-checked") === "true" || option.getAttribute("aria-selected") === "true";

function rove(list) {
  const options = [...list.querySelectorAll(OPTIONS)];
  const one = options.find(chosen) ?? options[0];
  for (const option of options) option.tabIndex = option === one ? 0 : -1;
}

function go(options, at, key) {
  if (key === "Home") return 0;
  if (key === "End") return options.length - 1;
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[key];
  return by && (at + by + options.length) % options.length;
}

export const oneOf = () => ({
  "x-init"() { rove(this.$el); },
  "@click"() { this.$nextTick(() => rove(this.$el)); },
  "@keydown"(event) {
    const options = [...this.$el.querySelectorAll(OPTIONS)];
    const at = options.indexOf(event.target);
    if (at < 0 || !plain(event)) return;
    const to = go(options, at, event.key);
    if (to === undefined) return;
    take(event);
    options[to].focus();
    options[to].click();
  },
});

export const drop = () => ({
  "@click.outside"() { this.$el.open = false; },
  "@click"({ target }) {
    if (!target.closest(".drop-list button")) return;
    this.$el.open = false;
    this.$el.querySelector("summary").focus({ preventScroll: true });
  },
  "@keydown.escape.stop"() {
    this.$el.open = false;
    this.$el.querySelector("summary").focus();
  },
  "@keydown"(event) {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!by || !this.$el.open || event.target.matches("input, select")) return;
    take(event);
    const items = [...this.$el.querySelectorAll("summary, .drop-list button, .drop-list input, .drop-list a")];
    items[(items.indexOf(document.activeElement) + by + items.length) % items.length].focus();
  },
});

// A list of acts, of which one that is chosen is done: a key opens it, and none is done before Enter.
export const acts = () => ({
  "@keydown"(event) {
    const opens = event.key.startsWith("Arrow") || (event.key.length === 1 && event.key !== " ");
    if (!opens || !plain(event)) return;
    take(event);
    this.$el.showPicker();
  },
});
