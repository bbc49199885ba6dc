// What opens and closes beside the drawing: the rail's sides, help, the controller, the note editor; and the theme.
import { $, announce, arrows, draw, on, slug, take } from "./page.js";
import { keeping, post, send } from "./edits.js";
import { asked } from "./asked.js";
import { say } from "./notice.js";
import { start } from "./stream.js";
import { sort } from "./drag.js";

// A fragment gives its place back.
function empty(id) {
  const box = document.createElement("div");
  box.id = id;
  box.hidden = true;
  $(id).replaceWith(box);
}

export const panelsStore = {
  side: "",
  help: false,
  keys: false,
  notes: false,
  showSide(name) {
    this.side = name;
    if (name) draw(`/patch/${slug}/side/${name}`, "#side"); else empty("side");
  },
  toggleHelp() { this.help = !this.help; },
  shutHelp() {
    if (!this.help) return;
    this.help = false;
    document.querySelector("nav .help-open").focus();
  },
  toggleKeys() { this.keys = !this.keys; start(); },
  toggleNotes() {
    this.notes = !this.notes;
    document.body.classList.toggle("noting", this.notes);
    if (this.notes) draw(`/patch/${slug}/phrase-panel`, "#phrase-panel").then(() => $("notes")?.focus());
    else { empty("phrase-panel"); document.querySelector(".phrase-open").focus(); }
  },
  theme() {
    const root = document.documentElement;
    root.dataset.theme = root.dataset.theme === "night" ? "paper" : "night";
    try { localStorage.setItem("kessel-theme", root.dataset.theme); } catch { /* not remembered */ }
  },
};

// Steps of the history that are asked for quickly are taken one after the other, and drawn once.
let left = 0;
export const historyStore = {
  async step(way) {
    left += 1;
    const over = keeping();
    const { found } = await send(way);
    if (found) say(found.label ? `${way === "undo" ? "Undone" : "Redone"}: ${found.label}` : `Nothing to ${way}`);
    left -= 1;
    over();
    if (!left) announce("edited", "redrawn");
  },
};

export const layersStore = {
  transpose(by) { post("transpose", new URLSearchParams({ by })); },
  octave(by) { post("octave", new URLSearchParams({ layer: asked("layer"), by })); },
  move(by) { post("move", new URLSearchParams({ path: `layers.${asked("layer")}`, by })); },
};

// A layer is dragged by its hatch, an item of a chain by its chip.
export const sortedLayer = () => ({
  "@pointerdown"(event) {
    if (event.button !== 0) return;
    const grip = this.$el;
    // the lowest layer is the first
    const like = () => [...document.querySelectorAll("[data-drag-layer]")].reverse();
    sort(event, grip, {
      like,
      over: (node) => node.closest(".strip"),
      done: (to) => post("move", new URLSearchParams({ path: `layers.${grip.dataset.dragLayer}`, to })),
    });
  },
});

const layerOf = (strip) => strip.querySelector("[data-drag-layer]").dataset.dragLayer;

export const sortedChip = () => ({
  "@pointerdown"(event) {
    if (event.button !== 0) return;
    const chip = this.$el;
    const place = ({ dataset }) => dataset.dragChip.slice(0, dataset.dragChip.lastIndexOf("."));
    const like = () => [...document.querySelectorAll("[data-drag-chip]")].filter((other) => place(other) === place(chip));
    sort(event, chip, {
      like,
      over: (node) => node.closest(".chip"),
      done: (to) => post("move", new URLSearchParams({ path: chip.dataset.dragChip, to })),
      // taken to another layer; with Ctrl a copy goes there
      others: () => [...document.querySelectorAll(".strip.layer")].filter((strip) => layerOf(strip) !== asked("layer")),
      brought: (strip, { ctrlKey, metaKey }) => {
        post("carry", new URLSearchParams({ path: chip.dataset.dragChip, layer: layerOf(strip), copy: ctrlKey || metaKey }));
      },
    });
  },
  "@keydown"(event) {
    const { across: by } = arrows(event);
    if (!by || !event.altKey) return;
    take(event);
    post("move", new URLSearchParams({ path: this.$el.dataset.dragChip, by }));
  },
});

// A finding, or a difference from the reference, shows its place and its layers.
export const points = () => {
  const show = (node) => {
    const where = $("where");
    const { x, width, layers = "" } = node?.dataset ?? {};
    if (where) {
      where.dataset.shown = String(x !== undefined);
      if (x !== undefined) { where.setAttribute("x", `${x}%`); where.setAttribute("width", `${width}%`); }
    }
    for (const strip of document.querySelectorAll(".strip.layer")) strip.classList.toggle("pointed", layers.split(" ").includes(strip.dataset.layer));
  };
  return {
    "@mouseenter"() { show(this.$el); },
    "@focusin"() { show(this.$el); },
    "@mouseleave"() { show(null); },
    "@focusout"() { show(null); },
  };
};

export const startPanels = () => on("chosen", ({ detail }) => { if (detail.side !== undefined) window.Alpine.store("panels").showSide(detail.side); });
