// Checks under a hand: vectors that follow a control that is being turned, and a stretch of the reference.
import { fetched, follower, placeIn, slug } from "./page.js";
import { post } from "./edits.js";
import { drag } from "./drag.js";
import * as stream from "./stream.js";

const foresee = follower(async (how) => {
  const box = document.querySelector(".by-hand");
  if (!box) return;
  const words = new URLSearchParams({ key: box.dataset.key, ...how });
  for (const { note, end, loss, fails } of (await fetched(`/patch/${slug}/foreseen?${words}`)) ?? []) {
    const dial = document.querySelector(`.dial[data-note="${note}"]`);
    if (!dial) continue;
    for (const line of dial.querySelectorAll(".turned, .sum")) { line.setAttribute("x2", end[0]); line.setAttribute("y2", end[1]); }
    dial.querySelector("b").textContent = loss;
    dial.classList.toggle("fails", fails);
  }
});

// The source's drawing follows a hand that is still turning.
const sketch = follower(async (how) => {
  const figure = document.getElementById("source-drawing");
  if (!figure) return;
  const { layer, source } = figure.dataset;
  const found = await fetched(`/patch/${slug}/drawing?${new URLSearchParams({ layer, source, ...how })}`);
  if (!found?.line || !figure.isConnected) return;
  figure.querySelector(".cycle").setAttribute("d", found.line);
  figure.querySelectorAll(".partials rect").forEach((bar, i) => { bar.setAttribute("y", 100 - found.bars[i]); bar.setAttribute("height", found.bars[i]); });
});

export const stretch = () => ({
  "@pointerdown"(event) {
    if (event.button !== 0) return;
    const node = this.$el;
    const from = placeIn(node, event).x;
    const span = (now) => {
      const to = placeIn(node, now).x;
      const low = Math.min(from, to);
      const wide = Math.abs(to - from);
      const mark = node.querySelector(".stretch");
      mark.setAttribute("x", `${100 * low}%`);
      mark.setAttribute("width", `${100 * wide}%`);
      return { low, wide };
    };
    drag(event, node, {
      move: span,
      drop(now) {
        const { low, wide } = span(now);
        const seconds = Number(node.dataset.stretch);
        post("reference/whole-stretch", new URLSearchParams({ start: (low * seconds).toFixed(3), seconds: (wide * seconds).toFixed(3) }));
      },
    });
  },
});

export function startChecks() {
  stream.hear("turn", ({ path, at, steps }) => {
    const how = { path, ...(at !== undefined ? { at } : steps !== undefined && { steps }) };
    if (document.querySelector(`.by-hand [data-rule="${CSS.escape(path)}"]`)) foresee(how);
    const figure = document.getElementById("source-drawing");
    if (figure && path.startsWith(`layers.${figure.dataset.layer}.sources.`)) sketch(how);
  });
}
