// The drawn wave under a hand: strokes over the cycle, bars of harmonics, frames.
import { say } from "./keeping.js";
import { post } from "./panels.js";

const $ = (id) => document.getElementById(id);

export function startWave(player) {
  let hand = null;
  let at = 0;
  let harmonic = 1;
  let told = 0;
  const facts = () => ({ path: $("wave").dataset.path, frame: Number($("wave").dataset.frame) });
  const send = (what) => post("wave", { ...facts(), ...what });
  const where = (node, event) => {
    const box = node.getBoundingClientRect();
    return { x: Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1), y: Math.min(Math.max((event.clientY - box.top) / box.height, 0), 1) };
  };
  const faces = { "wave-cycle": "cycle", "wave-bars": "bars", "wave-phases": "phases" };
  const level = (y) => Math.max(-72, -72 + 78 * (1 - y));

  document.addEventListener("pointerdown", (event) => {
    const node = event.target.closest?.("#wave-cycle, #wave-bars, #wave-phases");
    if (!node || event.button !== 0) return;
    event.preventDefault();
    node.focus?.({ preventScroll: true });
    node.setPointerCapture(event.pointerId);
    hand = { kind: faces[node.id], node, last: where(node, event), strokes: [], set: new Map() };
    moved(event);
  });
  function moved(event) {
    const p = where(hand.node, event);
    if (hand.kind === "cycle") {
      hand.strokes.push([hand.last.x, 1 - 2 * hand.last.y, p.x, 1 - 2 * p.y]);
      const first = hand.strokes[0];
      $("wave-ghost").setAttribute("d", `M${1000 * first[0]},${50 - 50 * first[1]} ` + hand.strokes.map((s) => `L${1000 * s[2]},${50 - 50 * s[3]}`).join(" "));
    } else {
      // every bar that was passed
      const from = Math.floor(Math.min(hand.last.x, p.x) * 64);
      const to = Math.min(63, Math.floor(Math.max(hand.last.x, p.x) * 64));
      for (let k = from; k <= to; k++) {
        const bar = hand.node.querySelector(`[data-k="${k + 1}"]`);
        if (hand.kind === "bars") { hand.set.set(k + 1, level(p.y)); bar.setAttribute("y", 100 * p.y); bar.setAttribute("height", 100 - 100 * p.y); }
        else { hand.set.set(k + 1, 360 * (1 - p.y)); bar.setAttribute("y", 100 * p.y - 4); }
      }
      say(hand.kind === "bars" ? `harmonic ${to + 1}: ${level(p.y).toFixed(1)} dB` : `harmonic ${to + 1}: ${(360 * (1 - p.y)).toFixed(0)}°`);
    }
    hand.last = p;
    heard();
  }
  const what = (h) => (h.kind === "cycle" ? { do: "stroke", strokes: h.strokes } : h.kind === "bars" ? { do: "bars", levels: [...h.set] } : { do: "bars", phases: [...h.set] });
  // while it is drawn it is heard, a few times a second
  function heard() {
    const now = performance.now();
    if (now - told < 120) return;
    told = now;
    const { do: deed, ...rest } = what(hand);
    player.send({ do: "wave", deed, ...facts(), ...rest });
  }
  document.addEventListener("pointermove", (event) => { if (hand) moved(event); });
  document.addEventListener("pointerup", async () => { if (!hand) return; const h = hand; hand = null; await send(what(h)); });
  document.addEventListener("pointercancel", () => { if (!hand) return; hand = null; player.send({ do: "drop" }); document.body.dispatchEvent(new CustomEvent("redrawn")); });

  // keys: a point of the cycle, a harmonic
  document.addEventListener("keydown", (event) => {
    const cycle = event.target.id === "wave-cycle";
    const bars = event.target.id === "wave-bars";
    if ((!cycle && !bars) || event.ctrlKey || event.metaKey || event.altKey) return;
    const side = { ArrowLeft: -1, ArrowRight: 1 }[event.key] || 0;
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key] || 0;
    const turn = { PageUp: 15, PageDown: -15 }[event.key] || 0;
    if (!side && !up && !turn) return;
    event.preventDefault();
    event.stopPropagation();
    if (cycle) {
      at = Math.min(Math.max(at + side, 0), 63);
      const points = event.target.dataset.points.split(" ").map(Number);
      const middle = (at + 0.5) / 64;
      const y = points[Math.round(middle * (points.length - 1))] + 0.05 * up;
      $("wave-cursor").setAttribute("x1", 1000 * middle);
      $("wave-cursor").setAttribute("x2", 1000 * middle);
      say(`point ${at + 1} of 64 at ${Math.round(100 * y)} %`);
      if (up) send({ do: "stroke", strokes: [[at / 64, y, (at + 1) / 64 - 0.0005, y]] });
      return;
    }
    harmonic = Math.min(Math.max(harmonic + side, 1), 64);
    $("bar-cursor").setAttribute("x", (harmonic - 1) * 10);
    const bar = document.querySelector(`#wave-bars [data-k="${harmonic}"]`);
    const db = -72 + 0.78 * Number(bar.getAttribute("height"));
    say(bar.querySelector("title").textContent);
    if (up) send({ do: "bars", levels: [[harmonic, Math.min(6, (db <= -71.9 ? -49 : db) + up * (event.shiftKey ? 0.2 : 1))]] });
    if (turn) {
      const phase = 3.6 * (96 - Number(document.querySelector(`#wave-phases [data-k="${harmonic}"]`).getAttribute("y")));
      send({ do: "bars", phases: [[harmonic, phase + turn]] });
    }
  }, true);

  document.addEventListener("change", (event) => { if (event.target.id === "wave-pick") { $("editor-frame").value = "0"; send({ do: "use", word: event.target.value }); } });
  document.addEventListener("click", (event) => {
    const frame = event.target.closest(".frame[data-frame]");
    if (frame) { $("editor-frame").value = frame.dataset.frame; document.body.dispatchEvent(new CustomEvent("redrawn")); }
    const button = event.target.closest("[data-wave]");
    if (!button) return;
    const { wave, what: word } = button.dataset;
    if (wave === "use") send({ do: "use", word: $("wave-pick").value });
    if (wave === "touch") send({ do: "touch", what: word, count: Number($("keep-first").value) || 1 });
    if (wave === "frames") send({ do: "frames", what: word, to: Math.max(0, (Number($("morph-to").value) || document.querySelectorAll(".frame").length) - 1) });
  });
}
