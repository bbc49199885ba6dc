// Points of the drawn curve. The server knows its grid, its limits and how it bends.
import { $, arrows, clamp, placeIn, plain, take } from "./page.js";
import { post } from "./edits.js";
import { say } from "./notice.js";
import { drag } from "./drag.js";
import { giveUp, redraw } from "./values.js";
import * as stream from "./stream.js";

const HEARD = 60;
const pad = () => Number($("curve-region").dataset.pad) / 100;
const toY = (value) => 100 * (pad() + (1 - 2 * pad()) * (1 - value));
const toValue = (y) => clamp(1 - (y - pad()) / (1 - 2 * pad()));
const path = (points) => `M${points.map(([at, value]) => `${1000 * at},${toY(value)}`).join(" L")}`;
const mover = () => $("curve").dataset.mover;
const curve = (what) => post("curve", { mover: mover(), ...what });
const placed = (event) => {
  const { x, y } = placeIn($("curve-area"), event);
  return { at: x, value: toValue(y) };
};
const pointOf = (node) => ({ index: Number(node.dataset.point), at: Number(node.dataset.x) / 100, value: toValue(Number(node.dataset.y) / 100) });

// What a drag on the curve is: moving a point, bending a segment, or a stroke over the rest.
function deedOf(target) {
  const point = target.closest("[data-point]");
  if (point) return { kind: "move", node: point, index: Number(point.dataset.point) };
  const mark = target.closest("[data-bend]");
  return mark ? { kind: "bend", node: mark, index: Number(mark.dataset.bend) } : { kind: "stroke" };
}

function follow(deed, line, here) {
  if (deed.kind === "stroke") { $("curve-ghost").setAttribute("d", path(line)); return; }
  deed.node.setAttribute("y", `${toY(here.value)}%`);
  if (deed.kind === "bend") return;
  const last = document.querySelectorAll("[data-point]").length - 1;
  const at = deed.index === 0 ? 0 : deed.index === last ? 1 : here.at;
  deed.node.setAttribute("x", `${100 * at}%`);
  say(`point ${deed.index + 1}: ${Math.round(100 * here.value)} %`);
}

async function keep({ kind, index }, line, here, moved) {
  if (kind === "stroke" && !moved) return curve({ do: "add", ...here });
  if (!moved || (kind === "stroke" && line.length < 3)) return true;
  if (kind === "stroke") return curve({ do: "stroke", line });
  return curve({ do: kind, index, ...here });
}

export const drawnCurve = () => ({
  "@pointerdown"(event) {
    if (event.button !== 0 || event.altKey) return;
    const deed = deedOf(event.target);
    let here = placed(event);
    const line = [[here.at, here.value]];
    let heard = 0;
    deed.node?.focus?.({ preventScroll: true });
    drag(event, this.$el, {
      near: 2,
      move(now, moved) {
        if (!moved) return;
        here = placed(now);
        line.push([here.at, here.value]);
        follow(deed, line, here);
        if (performance.now() - heard < HEARD) return;
        heard = performance.now();
        if (deed.kind !== "stroke") stream.tell({ do: "curve", deed: deed.kind, mover: mover(), index: deed.index, ...here });
        else if (line.length > 3) stream.tell({ do: "curve", deed: "stroke", mover: mover(), line });
      },
      async drop(now, moved) { if (!(await keep(deed, line, here, moved))) redraw(); },
      cancel: giveUp,
    });
  },
  "@dblclick"({ target }) {
    const point = target.closest("[data-point]");
    if (point) curve({ do: "remove", index: Number(point.dataset.point) });
  },
  "@keydown"(event) {
    const node = event.target.closest("[data-point]");
    if (!node || !plain(event)) return;
    const { index, at, value } = pointOf(node);
    const { across = 0, up = 0 } = arrows(event);
    const bend = { PageUp: 0.06, PageDown: -0.06 }[event.key];
    const { grid, fine } = this.$el.dataset;
    if (across || up) curve({ do: "move", index, at: clamp(at + across * Number(event.shiftKey ? fine : grid)), value: clamp(value + up * (event.shiftKey ? 0.01 : 0.05)) });
    else if (event.key === "Delete" || event.key === "Backspace") curve({ do: "remove", index });
    else if (event.key === "+") {
      const next = document.querySelector(`[data-point="${index + 1}"]`);
      if (next) curve({ do: "add", at: (at + pointOf(next).at) / 2, value });
    } else if (bend) {
      const mark = document.querySelector(`[data-bend="${index}"]`);
      if (mark) curve({ do: "bend", index, value: clamp(toValue(parseFloat(mark.getAttribute("y")) / 100) + bend, 0.001, 0.999) });
    } else return;
    take(event);
  },
});

export const touch = (what) => curve({ do: "touch", what });

export function startCurves() {
  stream.hear("curve", ({ mover: told, line }) => {
    if ($("curve")?.dataset.mover !== told) return;
    $("curve-line").setAttribute("d", path(line.map((value, i) => [i / (line.length - 1), value])));
  });
}
