// The vowel chart: two controls in one place.
import { arrows, placeIn, plain, take } from "./page.js";
import { drag } from "./drag.js";
import { giveUp, redraw, turn } from "./values.js";
import * as stream from "./stream.js";

export const pad = () => ({
  "@pointerdown"(event) {
    if (event.button !== 0) return;
    const { padX, padY } = this.$el.dataset;
    const dot = this.$el.querySelector(".dot");
    const edge = this.$el.querySelector(".chart-edge");
    let place = null;
    const move = (now) => {
      place = placeIn(edge, now);
      dot.setAttribute("x", `${100 * place.x}%`);
      dot.setAttribute("y", `${100 * place.y}%`);
      stream.tell({ do: "turn", path: padX, at: place.x });
      stream.tell({ do: "turn", path: padY, at: place.y });
    };
    dot.focus({ preventScroll: true });
    drag(event, this.$el, {
      move,
      async drop() {
        await turn(padX, { at: place.x });
        await turn(padY, { at: place.y });
        redraw();
      },
      cancel: giveUp,
    });
    move(event);
  },
  async "@keydown"(event) {
    const { padX, padY } = this.$el.dataset;
    const { across, up } = arrows(event);
    if (!plain(event) || (!across && !up)) return;
    take(event);
    await turn(across ? padX : padY, { steps: (across ?? -up) * (event.shiftKey ? 0.1 : 1) });
    redraw();
  },
});
