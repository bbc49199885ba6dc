// A clock from outside: what MIDI devices send of it, and a device of Kessel's own that sends one.
import { clock, hear, start } from "./stream.js";
import { turn } from "./values.js";

const [TICK, START, CONTINUE, STOP, POSITION] = [0xf8, 0xfa, 0xfb, 0xfc, 0xf2];
const OURS = new Set([TICK, START, CONTINUE, STOP, POSITION]);
const TICKS_PER_BEAT = 24;
const WAKE = 8;

// Whether a device's message is one of a clock: it is sent on. at: when it came (ms).
export function fromClock(data, at) {
  if (data[0] < 0xf0) return false;
  if (OURS.has(data[0])) {
    if (data[0] === START || data[0] === CONTINUE) start();
    clock([...data.slice(0, 3)], at);
  }
  return true;
}

export const clockStore = {
  // what the player follows
  words: "",
  tempo: null,
  get takeWords() { return this.tempo ? `Take ${this.tempo} BPM` : "Take the tempo"; },
  take() { if (this.tempo) turn("tempo", { text: String(this.tempo) }); },

  // the device of our own
  own: 120,
  sends: false,
  next: 0,
  timer: 0,
  set(field) {
    const tempo = Number(field.value);
    const { low, high } = field.dataset;
    if (tempo >= Number(low) && tempo <= Number(high)) this.own = tempo;
    field.value = this.own;
  },
  begin(again) {
    fromClock([again ? CONTINUE : START], performance.now());
    if (this.sends) return;
    this.sends = true;
    this.next = performance.now();
    this.timer = setInterval(() => this.tick(), WAKE);
  },
  end() {
    this.sends = false;
    clearInterval(this.timer);
    fromClock([STOP], performance.now());
  },
  // each tick has the time at which it was due, however late the page wakes
  tick() {
    for (const now = performance.now(); this.next <= now; this.next += 60000 / (TICKS_PER_BEAT * this.own)) fromClock([TICK], this.next);
  },
};

export function startClock() {
  hear("clock", ({ tempo, words }) => Object.assign(window.Alpine.store("clock"), { tempo, words }));
  hear("started", () => { window.Alpine.store("player").playing = true; });
}
