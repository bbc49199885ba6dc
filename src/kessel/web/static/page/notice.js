// The notice: all that the page has to say stands in one place of the header; the last lines open below it.
import { $ } from "./page.js";

const KEPT = 8;
let count = 0;

export const noticeStore = {
  text: "",
  bad: false,
  lines: [],
  say(text, bad = false) {
    this.text = text;
    this.bad = bad;
    this.lines = [{ key: ++count, text, bad }, ...this.lines].slice(0, KEPT);
  },
};

export const say = (text, bad = false) => window.Alpine.store("notice").say(text, bad);

// What a control is for: read out with the control, so it is not announced.
export function help(text) {
  const line = $("help-line");
  if (line) line.textContent = text;
}

export const notice = () => ({
  open: false,
  get line() { return this.$store.server.words || this.$store.notice.text; },
  get bad() { return Boolean(this.$store.server.words) || this.$store.notice.bad; },
  toggle() { this.open = !this.open; },
  shut() {
    if (this.open && this.$root.contains(document.activeElement)) this.$refs.earlier.focus();
    this.open = false;
  },
});
