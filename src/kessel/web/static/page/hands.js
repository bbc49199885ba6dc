// The controller on the page, MIDI devices, and notes from the computer keyboard: all send what a MIDI device would.
import { arrows, clamp, plain, take } from "./page.js";
import { post } from "./edits.js";
import { fromClock } from "./clock.js";
import { midi as play, start } from "./stream.js";

const KEYS = { a: 0, w: 1, s: 2, e: 3, d: 4, f: 5, t: 6, g: 7, y: 8, h: 9, u: 10, j: 11, k: 12, o: 13, l: 14, p: 15 };
const [NOTE_OFF, NOTE_ON, CONTROL, PRESSURE, BEND] = [0x80, 0x90, 0xb0, 0xd0, 0xe0];
const WHEEL = 1;
const FIRST_SLIDER = 16;
const HIGHEST = 96;
// taps that are further apart begin anew; a tempo is taken once the hand rests for as long
const TAP_RESTS = 1600;

const midi = (bytes) => { if (!window.Alpine.store("learn").heard(bytes)) play(bytes); };

export const bendBytes = (share) => {
  const value = Math.round(clamp(share, -1, 1) * 8191) + 8192;
  return [BEND, value & 127, value >> 7];
};
export const laneBytes = (lane, share) => {
  if (lane === "bend") return bendBytes(share);
  const value = Math.round(127 * clamp(share));
  return lane === "wheel" ? [CONTROL, WHEEL, value] : [PRESSURE, value];
};

export const handsStore = {
  base: 24,
  velocity: 100,
  held: [],
  devices: "",
  down: {},
  names: [],
  taps: [],
  get tapWords() { return this.taps.length ? `Tap ${this.taps.length}` : "Tap"; },
  // the tempo, beaten by hand
  tap(at) {
    this.taps = [...this.taps, at].slice(-64);
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      const times = this.taps;
      this.taps = [];
      if (times.length > 1) post("tap", { times });
    }, TAP_RESTS);
  },
  get words() { return this.devices || `octave ${this.names[this.base]}, velocity ${this.velocity}`; },
  note(pitch, velocity) {
    midi([velocity > 0 ? NOTE_ON : NOTE_OFF, pitch, clamp(velocity, 0, 127)]);
    this.held = velocity > 0 ? [...this.held, pitch] : this.held.filter((one) => one !== pitch);
  },
  bend(percent) { midi(bendBytes(percent / 100)); },
  spring(strip) { strip.value = 0; this.bend(0); },
  wheel(value) { midi([CONTROL, WHEEL, Number(value)]); },
  pressure(value) { midi([PRESSURE, Number(value)]); },
  slider(number, value) { midi([CONTROL, FIRST_SLIDER + number, Number(value)]); },
  octave(by) { this.base = clamp(this.base + by, 0, HIGHEST); },
  harder(by) { this.velocity = clamp(Number(this.velocity) + by, 1, 127); },

  // the computer keyboard
  press(key) {
    if (!(key in KEYS)) return false;
    if (key in this.down) return true;
    this.down[key] = this.base + KEYS[key];
    this.note(this.down[key], Number(this.velocity));
    return true;
  },
  lift(key) {
    if (!(key in this.down)) return;
    this.note(this.down[key], 0);
    delete this.down[key];
  },
  liftAll() { for (const key of Object.keys(this.down)) this.lift(key); },

  // devices, where the browser has them
  async listen() {
    if (!navigator.requestMIDIAccess) { this.devices = "this browser has no MIDI: use the keys here"; return; }
    const access = await navigator.requestMIDIAccess().catch(() => null);
    if (!access) { this.devices = "the browser did not allow MIDI"; return; }
    const hear = () => {
      const inputs = [...access.inputs.values()];
      for (const input of inputs) input.onmidimessage = ({ data, timeStamp }) => { if (!fromClock(data, timeStamp)) { start(); midi([...data.slice(0, 3)]); } };
      this.devices = inputs.length ? `MIDI from ${inputs.map(({ name }) => name).join(", ")}` : "no MIDI device is plugged in";
    };
    access.onstatechange = hear;
    hear();
  },
};

const OCTAVES = 36;
const WIDE = 700;
const isBlack = (name) => /[♭#♯]/.test(name);

function drawKeys(piano, base, names) {
  const pitches = names.map((name, pitch) => ({ name, pitch })).slice(base, base + OCTAVES);
  const whites = pitches.filter(({ name }) => !isBlack(name));
  const wide = WIDE / whites.length;
  const place = ({ pitch }) => whites.filter((white) => white.pitch < pitch).length * wide;
  const key = (one, black) => {
    const node = document.createElementNS("http://www.w3.org/2000/svg", "rect");
    const box = black ? { x: place(one) - 0.32 * wide, width: 0.64 * wide, height: 62 } : { x: place(one), width: wide, height: 100 };
    const rest = { y: 0, class: `key ${black ? "black" : "white"}`, "data-pitch": one.pitch, role: "button", "aria-label": one.name, tabindex: one.pitch === base ? 0 : -1 };
    for (const [attribute, value] of Object.entries({ ...box, ...rest })) node.setAttribute(attribute, value);
    return node;
  };
  const blacks = pitches.filter(({ name }) => isBlack(name));
  piano.replaceChildren(...whites.map((one) => key(one, false)), ...blacks.map((one) => key(one, true)));
}

// The piano: a key sounds while it is pressed, by pointer or by Space and Enter; sliding over the keys plays them.
export const piano = () => ({
  pressed: null,
  keys: {
    "x-init"() {
      const { hands } = this.$store;
      hands.names = this.$el.dataset.names.split(" ");
      this.$watch("$store.hands.held", (held) => {
        for (const key of this.$root.children) key.classList.toggle("held", held.includes(Number(key.dataset.pitch)));
      });
    },
    "x-effect"() { drawKeys(this.$el, this.$store.hands.base, this.$store.hands.names); },
    "@pointerdown"(event) {
      const key = event.target.closest("[data-pitch]");
      if (!key) return;
      event.preventDefault();
      this.$el.setPointerCapture(event.pointerId);
      this.go(Number(key.dataset.pitch));
    },
    "@pointermove"(event) {
      if (this.pressed === null) return;
      const key = document.elementFromPoint(event.clientX, event.clientY)?.closest("#piano [data-pitch]");
      if (key) this.go(Number(key.dataset.pitch));
    },
    "@pointerup"() { this.go(null); },
    "@pointercancel"() { this.go(null); },
    "@keydown"(event) {
      const key = event.target.closest("[data-pitch]");
      const { across, up } = arrows(event);
      const by = across ?? up;
      if (!key || !plain(event)) return;
      if (by) {
        const next = this.$el.querySelector(`[data-pitch="${Number(key.dataset.pitch) + by}"]`);
        if (next) { key.tabIndex = -1; next.tabIndex = 0; next.focus(); }
      } else if (event.key === " " || event.key === "Enter") { if (!event.repeat) this.go(Number(key.dataset.pitch)); } else return;
      take(event);
    },
    "@keyup"(event) { if (event.key === " " || event.key === "Enter") this.go(null); },
    "@focusout"() { this.go(null); },
  },
  go(pitch) {
    if (pitch === this.pressed) return;
    const was = this.pressed;
    this.pressed = pitch;
    if (pitch !== null) this.$store.hands.note(pitch, Number(this.$store.hands.velocity));
    if (was !== null) this.$store.hands.note(was, 0);
  },
});
