// The shaping workspace under a hand: going to a stage, comparing while it plays, chips dragged to another place.
import { draw, post } from "./panels.js";

const slug = document.body.dataset.slug;
const $ = (id) => document.getElementById(id);

export function startShaping(player) {
  const ask = (name, value) => { $(`editor-${name}`).value = value; };
  const redraw = () => document.body.dispatchEvent(new CustomEvent("redrawn"));
  // what is known is shown at once; what has to be measured follows
  const fresh = () => draw(`/patch/${slug}/sheet?now=true`, "#sheet", { source: "#sheet" });

  function goTo({ viewWord, tabWord, layerWord, itemWord, whatWord }) {
    if (viewWord && $("sheet").dataset.view !== viewWord) player.workspace(viewWord);
    if (tabWord) ask("tab", tabWord);
    if (layerWord) ask("layer", layerWord);
    ask("item", itemWord);
    ask("what", whatWord);
    ask("group", "");
    player.address();
    fresh();
    redraw();
  }

  // listening: one thing at a time is compared, and letting go or pressing again ends it
  let comparing = "";
  function compare(what) {
    comparing = comparing === what ? "" : what;
    player.send({ do: "compare", what: comparing });
    show();
  }
  function tryOut(place, which) {
    const word = `${place} ${which}`;
    comparing = comparing === word ? "" : word;
    player.send({ do: "try", place, which: comparing ? which : "" });
    show();
  }
  function show() {
    for (const b of document.querySelectorAll("[data-compare]")) b.setAttribute("aria-pressed", String(b.dataset.compare === comparing));
    for (const b of document.querySelectorAll("[data-try]")) b.setAttribute("aria-pressed", String(`${b.dataset.place} ${b.dataset.try}` === comparing));
  }
  document.body.addEventListener("htmx:afterSettle", show);
  // an edit is heard as it is
  document.body.addEventListener("edited", () => { if (comparing) { comparing = ""; show(); } });
  const typing = (node) => node.matches?.("input, select, textarea") && node.type !== "range";
  let held = false;
  document.addEventListener("keydown", (event) => {
    if (event.key.toLowerCase() !== "b" || event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
    event.preventDefault();
    if (!held) { held = true; comparing = ""; compare("all"); }
  });
  document.addEventListener("keyup", (event) => {
    if (event.key.toLowerCase() !== "b" || !held) return;
    held = false;
    comparing = "all";
    compare("all");
  });

  document.addEventListener("click", (event) => {
    const at = (what) => event.target.closest(what);
    let found;
    if ((found = at("[data-goto]"))) goTo(found.dataset);
    else if ((found = at("[data-compare]"))) compare(found.dataset.compare);
    else if ((found = at("[data-try]"))) tryOut(found.dataset.place, found.dataset.try);
    // another item of the chain has another drawing
    else if (at("#editor [data-item], #editor [data-group], #editor [data-tab]") && $("sheet").dataset.view === "shaping") setTimeout(fresh);
  });
  document.body.addEventListener("chosen", () => { if ($("sheet")?.dataset.view === "shaping") setTimeout(fresh); });

  // the order of a chain: chips dragged along the row, or moved with Alt and the arrows
  let drag = null;
  let just = false;
  // the click that ends a drag chooses nothing
  window.addEventListener("click", (event) => { if (just) { event.stopPropagation(); event.preventDefault(); } }, true);
  const place = (path) => path.slice(0, path.lastIndexOf("."));
  const row = (path) => [...document.querySelectorAll("[data-drag-chip]")].filter((c) => place(c.dataset.dragChip) === place(path));
  document.addEventListener("pointerdown", (event) => {
    const chip = event.target.closest?.("[data-drag-chip]");
    if (chip && event.button === 0) drag = { path: chip.dataset.dragChip, x: event.clientX, to: null, far: false };
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    if (!drag.far && Math.abs(event.clientX - drag.x) < 6) return;
    drag.far = true;
    document.body.classList.add("dragging");
    const chips = row(drag.path);
    drag.to = null;
    chips.forEach((chip, n) => {
      const box = chip.closest(".chip").getBoundingClientRect();
      const over = event.clientX >= box.left && event.clientX < box.right && event.clientY > box.top - 12 && event.clientY < box.bottom + 12;
      chip.closest(".chip").classList.toggle("drop-here", over && chip.dataset.dragChip !== drag.path);
      if (over) drag.to = n;
    });
  });
  const dropped = (event) => {
    if (!drag) return;
    const { path, to, far } = drag;
    const from = row(path).findIndex((c) => c.dataset.dragChip === path);
    drag = null;
    document.body.classList.remove("dragging");
    for (const chip of document.querySelectorAll(".chip.drop-here")) chip.classList.remove("drop-here");
    if (!far) return;
    just = true;
    setTimeout(() => { just = false; });
    if (event.type === "pointerup" && to !== null && to !== from) post("move", new URLSearchParams({ path, to }));
  };
  document.addEventListener("pointerup", dropped);
  document.addEventListener("pointercancel", dropped);
  document.addEventListener("keydown", (event) => {
    const chip = event.target.closest?.("[data-drag-chip]");
    if (!chip || !event.altKey || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    post("move", new URLSearchParams({ path: chip.dataset.dragChip, by: event.key === "ArrowLeft" ? -1 : 1 }));
  });
}
