// What is drawn per frame: the meter, the scope, and the playhead over every drawing of the loop. Nothing is drawn while
// nothing sounds.
import { $ } from "./page.js";
import * as stream from "./stream.js";

const SILENT = 1e-5;
const OVER_FRAMES = 45;
const FALL = 0.81;
const decibels = (v) => (v > SILENT ? `${(20 * Math.log10(v)).toFixed(1)} dB`.replace("-", "−") : "silent");

const state = { peak: 0, shown: 0, over: 0, waits: false, frames: 0, words: 0 };
const wave = new Float32Array(8192);
const player = () => window.Alpine.store("player");

function drawPlayhead(on) {
  const share = stream.beat() / Number(document.querySelector(".phrase-plot").dataset.beats);
  for (const head of document.querySelectorAll("[data-head]")) {
    head.setAttribute("visibility", on ? "visible" : "hidden");
    if (on) head.setAttribute("x", `${100 * share}%`);
  }
}

// Two cycles of what is heard, from a rising zero.
function drawScope(style) {
  const { width, height } = $("scope");
  const pen = $("scope").getContext("2d");
  pen.clearRect(0, 0, width, height);
  pen.strokeStyle = style.getPropertyValue("--line2");
  pen.beginPath();
  pen.moveTo(0, height / 2);
  pen.lineTo(width, height / 2);
  pen.stroke();
  if (!stream.sound()) return;
  stream.sound().getFloatTimeDomainData(wave);
  let start = 1;
  while (start < 4096 && !(wave[start - 1] < 0 && wave[start] >= 0)) start += 1;
  if (start === 4096) start = 0;
  pen.strokeStyle = style.getPropertyValue("--copper");
  pen.lineWidth = 1.3;
  pen.beginPath();
  for (let x = 0; x < width; x++) pen.lineTo(x, height * (0.5 - 0.47 * Math.max(-1, Math.min(1, wave[start + Math.floor((x * 3600) / width)]))));
  pen.stroke();
  if (state.words++ % 4) return;
  const peak = wave.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  const power = wave.reduce((sum, v) => sum + v * v, 0) / wave.length;
  $("scope-words").textContent = `peak ${decibels(peak)}, RMS ${decibels(Math.sqrt(power))}`;
}

function drawMeter(style) {
  const { width, dataset: { foot } } = $("meter");
  const pen = $("meter").getContext("2d");
  const db = state.shown > SILENT ? Math.max(20 * Math.log10(state.shown), foot) : foot;
  pen.clearRect(0, 0, width, 22);
  pen.fillStyle = style.getPropertyValue(state.over ? "--lead" : "--ink");
  pen.fillRect(2, 5, (width - 4) * (1 - db / foot), 12);
}

function frame() {
  state.waits = false;
  const on = player().playing && stream.beat() >= 0;
  drawPlayhead(on);
  if (state.peak > 1) state.over = OVER_FRAMES;
  else if (state.over) state.over -= 1;
  if (player().over !== state.over > 0) player().over = state.over > 0;
  state.shown = Math.max(state.peak, state.shown * FALL);
  state.peak = 0;
  const style = getComputedStyle(document.documentElement);
  // half of them are enough for the eye
  if (state.frames++ % 2 === 0 || !on) drawScope(style);
  drawMeter(style);
  if (on || state.shown > SILENT || state.over) draw();
}

// every other frame
function draw() {
  if (state.waits) return;
  state.waits = true;
  requestAnimationFrame(() => requestAnimationFrame(frame));
}

export function startScope() {
  draw();
  stream.hear("heard", ({ peak }) => {
    state.peak = Math.max(state.peak, peak);
    if (player().playing || state.peak > SILENT) draw();
  });
  new MutationObserver(draw).observe(document.documentElement, { attributeFilter: ["data-theme"] });
}
