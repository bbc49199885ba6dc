// Ctrl+K: any control, part, command or patch by name, reached with the control under the hand.
import { asked } from "./asked.js";
import { pressKey } from "./keys.js";
import { $, clamp, follower, on, request, slug, take } from "./page.js";
import { missed } from "./server.js";

let opener = null;
let wanted = "";

const rows = () => [...$("found").querySelectorAll("[role=option]")];
const chosen = () => rows().find((row) => row.getAttribute("aria-selected") === "true");

function choose(row) {
  for (const other of rows()) other.setAttribute("aria-selected", String(other === row));
  $("find-words").setAttribute("aria-activedescendant", row?.id ?? "");
  row?.scrollIntoView({ block: "nearest" });
}

export function openFinder() {
  opener = document.activeElement;
  $("finder").hidden = false;
  $("find-words").value = "";
  $("found").replaceChildren();
  $("find-words").focus();
}

function shut(back = true) {
  if ($("finder").hidden) return;
  $("finder").hidden = true;
  if (back && opener?.isConnected) opener.focus();
}

const search = follower(async ({ words }) => {
  const found = await request(`/patch/${slug}/find?${new URLSearchParams({ words, view: asked("view") })}`);
  if (!found || found.refused) { missed(); return; }
  $("found").outerHTML = await found.answer.text();
  choose(rows()[0]);
});

// The editor is drawn anew first. What is wanted gets the focus once it is there.
function reach() {
  const node = wanted && $(wanted);
  if (!node) return;
  wanted = "";
  node.scrollIntoView({ block: "nearest" });
  (node.matches("[tabindex], button, input, select") ? node : node.querySelector("[aria-checked=true], button, select, input"))?.focus();
}

function go(row) {
  if (!row) return;
  const { press, href, focus, asks } = row.dataset;
  shut(Boolean(press));
  if (press) { pressKey(press); return; }
  if (href) { window.location.href = href; return; }
  wanted = focus;
  window.Alpine.store("asked").go(JSON.parse(asks));
}

export const startFinder = () => on("htmx:afterSettle", reach);

export const finder = () => ({
  here: {
    "@keydown.escape.stop"() { shut(); },
    "@click.outside"() { shut(false); },
    "@click"({ target }) { go(target.closest("[role=option]")); },
  },
  words: {
    "@input"() { search({ words: this.$el.value }); },
    "@keydown.enter.prevent"() { go(chosen()); },
    "@keydown.up"(event) { this.step(event, -1); },
    "@keydown.down"(event) { this.step(event, 1); },
  },
  step(event, by) {
    take(event);
    const all = rows();
    choose(all[clamp(all.indexOf(chosen()) + by, 0, all.length - 1)]);
  },
});
