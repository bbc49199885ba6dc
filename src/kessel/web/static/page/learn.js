// Learning: a MIDI controller, or a slider of the controller on the page, is bound to a control by touching both.
import { post } from "./edits.js";
import { say } from "./notice.js";

const CONTROL = 0xb0;

export const learnStore = {
  on: false,
  controller: null,
  path: null,
  // path: a control that was touched already
  begin(path = null) {
    Object.assign(this, { on: true, controller: null, path });
    say(path ? "Move a slider or a controller: it will turn this control" : "Touch a control, and move a slider or a controller");
  },
  toggle() {
    if (this.on) this.on = false; else this.begin();
  },
  // Whether a message is taken for what is learned, and not played.
  heard([status, controller]) {
    if (!this.on || (status & 0xf0) !== CONTROL) return false;
    this.controller = controller;
    this.both();
    return true;
  },
  touched(node) {
    const { rule, handle, value } = node?.dataset ?? {};
    if (!this.on || !(rule ?? handle ?? value)) return;
    this.path = rule ?? handle ?? value;
    this.both();
  },
  async both() {
    const { controller, path } = this;
    if (controller === null || path === null) return;
    this.on = false;
    await post("bind", new URLSearchParams({ controller, path }));
  },
};

export function startLearning() {
  document.addEventListener("pointerdown", ({ target }) => {
    window.Alpine.store("learn").touched(target.closest?.("[data-rule], [data-handle], [data-value]"));
  }, { capture: true });
}
