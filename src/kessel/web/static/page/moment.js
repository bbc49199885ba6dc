// A moment of the loop: where the hand is on its picture, the spectrum there is shown and the moment is held and heard.
import { $, arrows, clamp, draw, placeIn, slug, take } from "./page.js";
import { say } from "./notice.js";
import { drag } from "./drag.js";
import * as stream from "./stream.js";

const SEEN = 150;
const QUIET = 700;
const LAST = 0.9999;

export const moment = () => ({
  at: 0,
  seen: 0,
  timer: 0,
  picture: {
    async "@pointerdown"(event) {
      if (event.button !== 0 || event.altKey) return;
      const box = this.$el;
      const look = (now) => this.show(box, Math.min(placeIn(box, now).x, LAST));
      box.focus({ preventScroll: true });
      drag(event, box, { move: look, drop: () => this.leave(), cancel: () => this.leave() });
      look(event);
      await stream.start();
    },
    async "@keydown"(event) {
      const { across } = arrows(event);
      if (!across) return;
      take(event);
      const box = this.$el;
      await stream.start();
      this.show(box, clamp(Number(box.getAttribute("aria-valuenow")) / 100 + 0.01 * across, 0, LAST));
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.leave(), QUIET);
    },
  },
  show(box, at) {
    const beat = at * Number($("sheet").dataset.beats);
    this.at = at;
    for (const end of ["x1", "x2"]) $("moment-line").setAttribute(end, `${100 * at}%`);
    box.setAttribute("aria-valuenow", Math.round(100 * at));
    say(`beat ${(1 + beat).toFixed(2)}`);
    stream.tell({ do: "glimpse", beat });
    if (performance.now() - this.seen < SEEN) return;
    this.seen = performance.now();
    this.see();
  },
  see() { draw(`/patch/${slug}/moment?at=${this.at.toFixed(5)}&what=${$("sheet").dataset.heard}`, "#moment"); },
  leave() {
    this.see();
    this.seen = 0;
    stream.tell({ do: "glimpse", beat: null });
  },
});
