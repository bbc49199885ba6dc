// Rules, and handles on a drawing: drag, wheel, arrows. Both are heard at once and kept as one step when the hand rests.
import { clamp, placeIn, plain, take } from "./page.js";
import { keeping } from "./edits.js";
import { drag } from "./drag.js";
import { giveUp, placeCaret, placeHandle, redraw, turn } from "./values.js";
import * as stream from "./stream.js";

const RESTS = 160;
const FINE = 0.1;
const ALSO_NEAR = 6;
const ALSO_RANGE = 160;
const STEPS = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 5, PageDown: -5 };
const waiting = new Map();

function step(path, steps) {
  const kept = waiting.get(path) ?? { steps: 0, timer: 0, over: keeping() };
  kept.steps += steps;
  clearTimeout(kept.timer);
  stream.tell({ do: "turn", path, steps: kept.steps });
  kept.timer = setTimeout(() => settle(path).then(redraw), RESTS);
  waiting.set(path, kept);
}

export async function settle(path) {
  const kept = waiting.get(path);
  if (!kept) return;
  clearTimeout(kept.timer);
  waiting.delete(path);
  await turn(path, { steps: kept.steps }).finally(kept.over);
}

// Where the hand is on a scale, with a tenth of its way while Shift is down.
export function fineAlong(start) {
  let from = null;
  return (event) => {
    const { x } = placeIn(start, event);
    if (!event.shiftKey) { from = null; return x; }
    from ??= x;
    return clamp(from + FINE * (x - from));
  };
}

// The ways of rules and handles: scale is what a place on it is called, box is what it lies on, put shows it there.
const sliding = (attribute, scale, boxOf, put) => () => ({
  "@pointerdown"(event) {
    const node = this.$el;
    if (event.button !== 0 || event.altKey) return;
    const path = node.dataset[attribute];
    const { also, alsoAt } = node.dataset;
    const along = fineAlong(boxOf(node));
    let at = null;
    let other = null;
    let frame = 0;
    settle(path);
    node.focus({ preventScroll: true });
    node.classList.add("held");
    const hear = () => {
      frame = 0;
      stream.tell({ do: "turn", path, [scale]: at });
      if (other !== null) stream.tell({ do: "turn", path: also, at: other });
    };
    const move = (now, moved) => {
      const up = event.clientY - now.clientY;
      if (!moved && attribute === "handle") return;
      at = along(now);
      put(node, at);
      // a handle on a drawing turns a second control up and down
      if (also && (Math.abs(up) > ALSO_NEAR || other !== null)) other = clamp(Number(alsoAt) + (now.shiftKey ? FINE : 1) * (up / ALSO_RANGE));
      frame ||= requestAnimationFrame(hear);
    };
    drag(event, node, {
      move,
      async drop() {
        node.classList.remove("held");
        cancelAnimationFrame(frame);
        if (at === null) return;
        await turn(path, { [scale]: at });
        if (other !== null) await turn(also, { at: other });
        redraw();
      },
      cancel() {
        node.classList.remove("held");
        cancelAnimationFrame(frame);
        giveUp();
      },
    });
    if (attribute === "rule") move(event, true);
  },
  "@dblclick"() { turn(this.$el.dataset[attribute], { default: true }).then(redraw); },
  "@wheel"(event) {
    if (event.deltaY === 0) return;
    event.preventDefault();
    step(this.$el.dataset[attribute], (event.deltaY < 0 ? 1 : -1) * (event.shiftKey ? FINE : 1));
  },
  "@keydown"(event) {
    if (!plain(event)) return;
    const path = this.$el.dataset[attribute];
    if (event.key in STEPS) step(path, STEPS[event.key] * (event.shiftKey ? FINE : 1));
    else {
      settle(path);
      if (event.key === "Home" || event.key === "End") turn(path, { [scale]: event.key === "Home" ? 0 : 1 }).then(redraw);
      else if (event.key === "Delete" || event.key === "Backspace") turn(path, { default: true }).then(redraw);
      else if (event.key === "Enter") document.getElementById(`${this.$el.id}-value`)?.focus();
      else return;
    }
    take(event);
  },
});

export const rule = sliding("rule", "at", (node) => node, placeCaret);
export const handle = sliding("handle", "axis", (node) => node.closest(".plot"), placeHandle);

export const startRules = () => window.addEventListener("pagehide", () => { for (const path of [...waiting.keys()]) settle(path); });
