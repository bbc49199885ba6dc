// The drawn wave: strokes over its cycle, bars and phases of its harmonics, its frames.
import { $, arrows, clamp, placeIn, plain, take } from "./page.js";
import { post } from "./edits.js";
import { say } from "./notice.js";
import { drag } from "./drag.js";
import { giveUp } from "./values.js";
import * as stream from "./stream.js";

const HEARD = 120;
const facts = () => ({ path: $("wave").dataset.path, frame: Number($("wave").dataset.frame) });
const send = (what) => post("wave", { ...facts(), ...what });
const barOf = (face, k) => $(face).querySelector(`[data-k="${k}"]`);

// The scale of the levels, as the server drew it: its foot and head in dB.
const levels = () => ({ foot: Number($("wave-bars").dataset.lowest), head: Number($("wave-bars").dataset.highest), count: Number($("wave-bars").dataset.count) });
const levelAt = (y) => { const { foot, head } = levels(); return foot + (head - foot) * (1 - y); };

// A drag over a face, from one place to the next. What is drawn so far is heard a few times a second, and kept at the end.
function paint(event, face, what, follow) {
  if (event.button !== 0) return;
  let last = placeIn(face, event);
  let heard = 0;
  const move = (now) => {
    const here = placeIn(face, now);
    follow(last, here);
    last = here;
    if (performance.now() - heard < HEARD) return;
    heard = performance.now();
    const { do: deed, ...rest } = what();
    stream.tell({ do: "wave", deed, ...facts(), ...rest });
  };
  face.focus({ preventScroll: true });
  drag(event, face, { move, drop: () => send(what()), cancel: giveUp });
  move(event);
}

// Keys choose a point of the cycle or a harmonic, and move it.
let point = 0;
let harmonic = 1;

export const waveCycle = () => ({
  "@pointerdown"(event) {
    const strokes = [];
    paint(event, this.$el, () => ({ do: "stroke", strokes }), (last, here) => {
      strokes.push([last.x, 1 - 2 * last.y, here.x, 1 - 2 * here.y]);
      const [[x, y]] = strokes;
      $("wave-ghost").setAttribute("d", `M${1000 * x},${50 - 50 * y} ${strokes.map((s) => `L${1000 * s[2]},${50 - 50 * s[3]}`).join(" ")}`);
    });
  },
  "@keydown"(event) {
    const { across, up } = arrows(event);
    if ((!across && !up) || !plain(event)) return;
    take(event);
    const points = this.$el.dataset.points.split(" ").map(Number);
    const { count } = levels();
    point = clamp(point + (across ?? 0), 0, count - 1);
    const middle = (point + 0.5) / count;
    const y = points[Math.round(middle * (points.length - 1))] + 0.05 * (up ?? 0);
    for (const end of ["x1", "x2"]) $("wave-cursor").setAttribute(end, 1000 * middle);
    const words = `point ${point + 1} of ${count} at ${Math.round(100 * y)} %`;
    this.$el.setAttribute("aria-valuenow", Math.round(100 * y));
    this.$el.setAttribute("aria-valuetext", words);
    say(words);
    if (up) send({ do: "stroke", strokes: [[point / count, y, (point + 1) / count - 0.0005, y]] });
  },
});

export const waveBars = () => ({
  "@pointerdown"(event) {
    const face = this.$el;
    const phases = face.id === "wave-phases";
    const set = new Map();
    const { count } = levels();
    paint(event, face, () => ({ do: "bars", [phases ? "phases" : "levels"]: [...set] }), (last, here) => {
      // every bar that was passed
      const to = Math.min(count - 1, Math.floor(Math.max(last.x, here.x) * count));
      for (let k = Math.floor(Math.min(last.x, here.x) * count) + 1; k <= to + 1; k++) {
        const bar = barOf(face.id, k);
        set.set(k, phases ? 360 * (1 - here.y) : levelAt(here.y));
        bar.setAttribute("y", 100 * here.y - (phases ? 4 : 0));
        if (!phases) bar.setAttribute("height", 100 - 100 * here.y);
      }
      say(`harmonic ${to + 1}: ${phases ? `${(360 * (1 - here.y)).toFixed(0)}°` : `${levelAt(here.y).toFixed(1)} dB`}`);
    });
  },
  "@keydown"(event) {
    const { across, up } = arrows(event);
    const turn = { PageUp: 15, PageDown: -15 }[event.key];
    if ((!across && !up && !turn) || !plain(event)) return;
    take(event);
    const { count } = levels();
    harmonic = clamp(harmonic + (across ?? 0), 1, count);
    $("bar-cursor").setAttribute("x", (harmonic - 1) * 10);
    const bar = barOf("wave-bars", harmonic);
    this.$el.setAttribute("aria-valuenow", harmonic);
    this.$el.setAttribute("aria-valuetext", bar.textContent.trim());
    say(bar.textContent.trim());
    if (up) send({ do: "step", harmonic, by: up * (event.shiftKey ? 0.2 : 1) });
    if (turn) send({ do: "bars", phases: [[harmonic, 3.6 * (96 - Number(barOf("wave-phases", harmonic).getAttribute("y"))) + turn]] });
  },
});

export const waveTools = {
  use() { send({ do: "use", word: $("wave-pick").value }); },
  touch(what) { send({ do: "touch", what, count: Number($("keep-first").value) || 1 }); },
  frames(what, count) { send({ do: "frames", what, to: Math.max(0, (Number($("morph-to").value) || count) - 1) }); },
};
