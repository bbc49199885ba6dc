// What the page shows: workspace, layer, tab, item and the like. It stands in a form that the fragments of htmx include,
// and in the address, so that a link leads to it.
import { $, announce, draw, on, slug } from "./page.js";

const form = () => $("editor-state");
const field = (name) => $(`editor-${name}`);
const IN_ADDRESS = ["view", "layer", "tab", "item", "group", "what", "curve", "topic", "pick"];
const OF_CHECKS = ["topic", "pick", "spot"];

export const asked = (name) => field(name)?.value ?? "";

export function address() {
  const words = new URLSearchParams(IN_ADDRESS.map((name) => [name, asked(name)]).filter(([, value]) => value));
  window.history.replaceState(null, "", `/patch/${slug}?${words}`);
}

// What is known of the main drawing is shown at once; what has to be measured follows.
export const freshSheet = () => draw(`/patch/${slug}/sheet?now=true`, "#sheet", { source: "#sheet" });

function put(fields) {
  const changed = Object.keys(fields).filter((name) => field(name) && asked(name) !== String(fields[name]));
  for (const name of changed) field(name).value = fields[name];
  return changed;
}

function show() {
  for (const link of document.querySelectorAll("nav [data-view]")) {
    const here = link.dataset.view === asked("view");
    link.classList.toggle("on", here);
    if (here) link.setAttribute("aria-current", "page"); else link.removeAttribute("aria-current");
  }
  for (const strip of document.querySelectorAll(".strip.layer")) {
    const here = strip.dataset.layer === asked("layer");
    strip.classList.toggle("chosen", here);
    strip.querySelector(".layer-name").setAttribute("aria-pressed", String(here));
    if (here) strip.scrollIntoView({ block: "nearest" });
  }
}

export const askedStore = {
  // Show something else, and draw what shows it. The main drawing says what it depends on.
  go(fields) {
    const changed = put(fields);
    address();
    show();
    const drawn = $("sheet").dataset.shows.split(" ");
    if (changed.some((name) => name === "view" || drawn.includes(name))) freshSheet();
    if (!Object.keys(fields).every((name) => OF_CHECKS.includes(name))) announce("redrawn");
  },
  workspace(link) { if (link.dataset.view !== asked("view")) this.go(JSON.parse(link.dataset.asks)); },
  neighbour(by) {
    const layers = $("sheet").dataset.layers.split(" ");
    const at = layers.indexOf(asked("layer"));
    this.go({ layer: layers[Math.min(Math.max(at + by, 0), layers.length - 1)], item: "" });
  },
};

export function startAsked() {
  // what an answer of the server brings into view
  on("chosen", ({ detail }) => {
    if (!form()) return;
    const { beside, ...fields } = detail;
    if (fields.layer !== undefined && fields.item === undefined) fields.item = "";
    // a new neighbour is the one to be looked at
    if (beside !== undefined && asked("topic") === "neighbours") fields.pick = beside;
    const changed = put(fields);
    address();
    const { shows } = $("sheet").dataset;
    // something was chosen that is no field: settings to compare
    const other = !Object.keys(fields).some(field);
    if (shows && (other || changed.some((name) => shows.split(" ").includes(name)))) freshSheet();
  });
  // an edit ends a plan, as it was made for what was there before
  on("edited", () => put({ spot: "" }));
  // what the editor's answer shows counts only when it answers what is still asked
  on("htmx:afterSwap", () => {
    const { asked: question, shown } = $("editor").dataset;
    const fields = [...form().elements];
    if (question === fields.map((e) => e.value).join("|")) shown.split("|").forEach((word, i) => { fields[i].value = word; });
  });
}

// Anything that leads somewhere says where in data-asks.
export const leads = () => ({
  "@click"(event) {
    if (event.altKey) return;
    event.preventDefault();
    this.$store.asked.go(JSON.parse(this.$el.dataset.asks));
  },
});

// A list asks by its value. What is typed to be found is no word of a list: those have a colon.
export const asksBy = () => ({
  "@change"() {
    const { value } = this.$el;
    this.$store.asked.go({ [this.$el.dataset.ask]: this.$el.matches("input") ? value.replaceAll(":", " ").trim() : value });
  },
});
