// The menu of a control: what moves it, what can move it, what it is tied to. It stands at the control, says what was
// refused, and gives the focus back when it closes.
import { $, clamp, on, plain, request, slug, take } from "./page.js";
import { say } from "./notice.js";
import { missed } from "./server.js";

const MARGIN = 8;
let opener = null;

export function shutMenu() {
  const menu = $("control-menu");
  if (menu.hidden) return;
  const inside = menu.contains(document.activeElement);
  const empty = document.createElement("div");
  empty.id = "control-menu";
  empty.hidden = true;
  menu.replaceWith(empty);
  if (inside) (opener?.isConnected ? opener : $(opener?.id))?.focus();
}

const menuOf = (path) => request(`/patch/${slug}/control-menu?path=${encodeURIComponent(path)}`);

async function openMenu(path, from, x, y) {
  const found = await menuOf(path);
  if (!found) { missed(); return; }
  const text = await found.answer.text();
  if (found.refused) { say(text.trim(), true); return; }
  opener = from;
  $("control-menu").outerHTML = text;
  const menu = $("control-menu");
  window.htmx.process(menu);
  const box = menu.getBoundingClientRect();
  menu.style.left = `${clamp(x, MARGIN, window.innerWidth - box.width - MARGIN)}px`;
  menu.style.top = `${clamp(y, MARGIN, window.innerHeight - box.height - MARGIN)}px`;
  (menu.querySelector(".add") ?? menu.querySelector("button")).focus();
}

// One end of a movement carries the other: an edit shows in all values of the menu.
on("redrawn", async () => {
  const menu = $("control-menu");
  if (!menu || menu.hidden) return;
  const found = await menuOf(menu.dataset.path);
  if (!found || found.refused) return;
  const fresh = new DOMParser().parseFromString(await found.answer.text(), "text/html");
  for (const input of menu.querySelectorAll("[data-value]")) {
    const now = fresh.getElementById(input.id);
    if (now && input.dataset.dirty !== "yes") { input.value = now.value; input.dataset.kept = now.value; }
  }
});

const pathOf = ({ dataset }) => dataset.rule ?? dataset.handle ?? dataset.path;

// For all that can be moved: a rule with its name and value, or a handle on a drawing.
export const movable = () => {
  const at = (node, event, x, y) => {
    take(event);
    openMenu(pathOf(node), node.querySelector("[role=slider]") ?? node, x, y);
  };
  const byKey = (node, event) => {
    if (event.target.matches("input") && !event.altKey) return;
    const { left, top } = event.target.getBoundingClientRect();
    at(node, event, left + 20, top - 40);
  };
  return {
    "@pointerdown.capture"(event) { if (event.altKey && event.button === 0) at(this.$el, event, event.clientX + 6, event.clientY - 20); },
    "@contextmenu"(event) { if (!event.target.matches("input")) at(this.$el, event, event.clientX + 6, event.clientY - 20); },
    "@keydown.alt.enter"(event) { byKey(this.$el, event); },
    "@keydown.m"(event) { if (plain(event)) byKey(this.$el, event); },
  };
};

export const controlMenu = () => ({
  refusal: "",
  here: {
    "@keydown.escape.stop"() { shutMenu(); },
    "@click.outside"({ altKey }) { if (!altKey) shutMenu(); },
    "@kept"() { shutMenu(); },
    "@refused.stop"({ detail }) { this.refusal = detail.refused; },
  },
  shut: shutMenu,
  learn() {
    const { path } = this.$root.dataset;
    shutMenu();
    this.$store.learn.begin(path);
  },
});
