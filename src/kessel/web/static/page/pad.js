// Grips on pictures: two controls in one place, or one of them, each between two ends of the picture.
import { arrows, clamp, placeIn, plain, take } from "./page.js";
import { drag } from "./drag.js";
import { giveUp, redraw, turn, turnBoth } from "./values.js";
import * as stream from "./stream.js";

const ends = (text) => (text ?? "0 100").split(" ").map((per) => Number(per) / 100);

// The controls that a grip moves, as {path, low, high, side}: the ends of their rules as shares of the picture.
function axesOf({ dataset: { across, up, endsAcross, endsUp } }) {
  const axis = (path, text, side) => ({ path, side, low: ends(text)[0], high: ends(text)[1] });
  return [across && axis(across, endsAcross, "x"), up && axis(up, endsUp, "y")].filter(Boolean);
}

// Take a grip along with the pointer, over a picture.
function follow(event, grip, picture) {
  if (event.button !== 0 || event.altKey) return null;
  const axes = axesOf(grip);
  const at = {};
  const move = (now) => {
    const place = placeIn(picture, now);
    for (const { path, side, low, high } of axes) {
      at[path] = clamp((place[side] - low) / (high - low));
      grip.setAttribute(side, `${100 * (low + (high - low) * at[path])}%`);
      stream.tell({ do: "turn", path, at: at[path] });
    }
  };
  grip.focus({ preventScroll: true });
  drag(event, grip, {
    move(now, moved) { if (moved) move(now); },
    async drop() {
      const [first, second] = axes.map(({ path }) => path).filter((path) => path in at);
      if (first) await turnBoth(first, { at: at[first] }, second && { path: second, at: at[second] });
      redraw();
    },
    cancel: giveUp,
  });
  return move;
}

export const grip = () => ({
  "@pointerdown"(event) {
    event.stopPropagation();
    follow(event, this.$el, this.$el.parentElement.querySelector(".chart-edge") ?? this.$el.parentElement);
  },
  async "@keydown"(event) {
    const { across, up } = arrows(event);
    const axis = axesOf(this.$el).find(({ side }) => side === (across ? "x" : "y"));
    if (!plain(event) || !axis || (!across && !up)) return;
    take(event);
    // on a picture whose top is the lower end, up is down
    const way = across || (axis.low < axis.high ? -up : up);
    await turn(axis.path, { steps: way * (event.shiftKey ? 0.1 : 1) });
    redraw();
  },
});

// A chart: a press anywhere takes its grip there.
export const pad = () => ({
  "@pointerdown"(event) {
    follow(event, this.$el.querySelector(".dot"), this.$el.querySelector(".chart-edge"))?.(event);
  },
});
